-- Other programs: keys by which they act for a user, and what happens here told to whoever listens.

CREATE TABLE api_keys (
  id INTEGER PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id),
  name TEXT NOT NULL,
  -- How it begins, to tell one from another; the whole is shown once and kept as a hash only.
  begins TEXT NOT NULL,
  hash TEXT NOT NULL UNIQUE,
  -- Of core/team/scopes.ts, as a JSON array.
  scopes TEXT NOT NULL,
  -- Keys live on the machine's clock, as sessions do.
  made_wall INTEGER NOT NULL,
  ends_wall INTEGER,
  used_wall INTEGER,
  revoked_wall INTEGER
) STRICT;
CREATE INDEX api_keys_of_user ON api_keys (user_id);

-- What was answered to a request that carries an Idempotency-Key: the same again does nothing a second time.
CREATE TABLE api_answers (
  key_id INTEGER NOT NULL REFERENCES api_keys (id) ON DELETE CASCADE,
  idempotency_key TEXT NOT NULL,
  -- SHA-256 of what was asked.
  request TEXT NOT NULL,
  -- Null while the parts of a request in bulk are under way: `body` holds the answers so far.
  status INTEGER,
  body TEXT NOT NULL,
  at_wall INTEGER NOT NULL,
  PRIMARY KEY (key_id, idempotency_key)
) STRICT, WITHOUT ROWID;
CREATE INDEX api_answers_by_age ON api_answers (at_wall);

-- What somebody listens for; nothing else is kept in `happenings`.
CREATE TABLE listeners (kind TEXT PRIMARY KEY) STRICT, WITHOUT ROWID;

-- The outbox: written in the transaction in which it happened, by the triggers below, in the order of its numbers.
CREATE TABLE happenings (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  kind TEXT NOT NULL,
  at INTEGER NOT NULL,
  prospect_id INTEGER REFERENCES prospects (id),
  journey_id INTEGER,
  touch_id INTEGER,
  reply_id INTEGER,
  mailbox_id INTEGER,
  user_id INTEGER,
  detail TEXT,
  -- The run of a rule that brought it about.
  cause_run INTEGER,
  -- What is told of it, as JSON; null until it is looked at.
  payload TEXT
) STRICT;
CREATE INDEX happenings_of_person ON happenings (prospect_id) WHERE prospect_id IS NOT NULL;
CREATE INDEX happenings_by_time ON happenings (at);

CREATE TRIGGER happening_of_event AFTER INSERT ON events
  WHEN EXISTS (SELECT 1 FROM listeners) BEGIN
  INSERT INTO happenings (kind, at, prospect_id, journey_id, touch_id, reply_id, mailbox_id, user_id, detail)
  SELECT m.kind, NEW.at, NEW.prospect_id, NEW.journey_id, NEW.touch_id, NEW.reply_id, NEW.mailbox_id, NEW.user_id, NEW.detail
  FROM (SELECT CASE NEW.kind
    WHEN 'journey_started' THEN 'journey.started'
    WHEN 'journey_stopped' THEN 'journey.stopped'
    WHEN 'journey_finished' THEN 'journey.finished'
    WHEN 'email_sent' THEN 'email.sent'
    WHEN 'opened' THEN 'email.opened'
    WHEN 'clicked' THEN 'email.clicked'
    WHEN 'bounced' THEN 'email.bounced'
    WHEN 'replied' THEN 'reply.received'
    WHEN 'labelled' THEN 'reply.labelled'
    WHEN 'opted_out' THEN 'prospect.opted_out'
    WHEN 'booked' THEN 'meeting.booked'
    WHEN 'booking_moved' THEN 'meeting.moved'
    WHEN 'booking_cancelled' THEN 'meeting.cancelled'
    WHEN 'meeting_held' THEN 'meeting.held'
    WHEN 'meeting_missed' THEN 'meeting.missed'
    END AS kind) m
  WHERE m.kind IN (SELECT kind FROM listeners);
END;
CREATE TRIGGER happening_of_arrival AFTER INSERT ON prospects
  WHEN EXISTS (SELECT 1 FROM listeners WHERE kind = 'prospect.added') BEGIN
  INSERT INTO happenings (kind, at, prospect_id, user_id, detail)
  VALUES ('prospect.added', NEW.created_at, NEW.id, NEW.owner_id, NEW.origin);
END;
-- The clock of these is that of server/clock.ts.
CREATE TRIGGER happening_of_stage AFTER UPDATE OF stage ON prospects
  WHEN NEW.stage IS NOT OLD.stage AND EXISTS (SELECT 1 FROM listeners WHERE kind = 'prospect.stage_changed') BEGIN
  INSERT INTO happenings (kind, at, prospect_id, detail)
  VALUES ('prospect.stage_changed',
    coalesce((SELECT base + iif(started_wall IS NULL, 0, CAST(unixepoch('subsec') * 1000 AS INTEGER) - started_wall) FROM demo_clock),
      CAST(unixepoch('subsec') * 1000 AS INTEGER)),
    NEW.id, json_object('from', OLD.stage, 'to', NEW.stage));
END;
CREATE TRIGGER happening_of_rest AFTER UPDATE OF state ON mailboxes
  WHEN NEW.state = 'resting' AND OLD.state != 'resting' AND EXISTS (SELECT 1 FROM listeners WHERE kind = 'mailbox.rests') BEGIN
  INSERT INTO happenings (kind, at, mailbox_id, detail)
  VALUES ('mailbox.rests',
    coalesce((SELECT base + iif(started_wall IS NULL, 0, CAST(unixepoch('subsec') * 1000 AS INTEGER) - started_wall) FROM demo_clock),
      CAST(unixepoch('subsec') * 1000 AS INTEGER)),
    NEW.id, NEW.rest_reason);
END;

CREATE TABLE webhooks (
  id INTEGER PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id),
  name TEXT NOT NULL,
  url TEXT NOT NULL,
  -- Of core/connections/happenings.ts, as a JSON array.
  kinds TEXT NOT NULL,
  -- Of whom it is told (core/prospects/filter.ts), as JSON; "" for everybody.
  filter TEXT NOT NULL DEFAULT '',
  -- Of a chat channel (core/connections/channel.ts), as JSON; null for a program.
  channel TEXT,
  -- The secret that signs, and the one before it while both do; sealed (server/secrets.ts).
  secret_sealed TEXT NOT NULL,
  old_secret_sealed TEXT,
  old_secret_until INTEGER,
  state TEXT NOT NULL DEFAULT 'on' CHECK (state IN ('on', 'off')),
  -- Why it was switched off by itself; null where a person did.
  off_because TEXT,
  -- It fails since then, and is tried again at that time; null while it takes what it is told.
  failing_since INTEGER,
  retry_at INTEGER,
  tries INTEGER NOT NULL DEFAULT 0,
  -- What happened up to here has been looked at for it.
  seen_happening INTEGER NOT NULL,
  made_at INTEGER NOT NULL
) STRICT;

CREATE TABLE deliveries (
  id INTEGER PRIMARY KEY,
  webhook_id INTEGER NOT NULL REFERENCES webhooks (id) ON DELETE CASCADE,
  happening_id INTEGER NOT NULL REFERENCES happenings (id) ON DELETE CASCADE,
  -- Whose it is: of one person they go one after the other.
  prospect_id INTEGER,
  state TEXT NOT NULL DEFAULT 'due' CHECK (state IN ('due', 'done', 'failed')),
  tries INTEGER NOT NULL DEFAULT 0,
  next_at INTEGER NOT NULL DEFAULT 0,
  -- From here on three days count.
  first_tried_at INTEGER,
  -- Of the last try: the receiver's status and the beginning of its words, or why there was none.
  tried_at INTEGER,
  status INTEGER,
  answer TEXT NOT NULL DEFAULT '',
  UNIQUE (webhook_id, happening_id)
) STRICT;
CREATE INDEX deliveries_due ON deliveries (webhook_id, id) WHERE state = 'due';
CREATE INDEX deliveries_of_person ON deliveries (webhook_id, prospect_id, id) WHERE state = 'due';
CREATE INDEX deliveries_of_happening ON deliveries (happening_id);

-- What only rules listen for.
CREATE TRIGGER happening_of_listing AFTER INSERT ON list_prospects
  WHEN EXISTS (SELECT 1 FROM listeners WHERE kind = 'list.added') BEGIN
  INSERT INTO happenings (kind, at, prospect_id, detail)
  VALUES ('list.added',
    coalesce((SELECT base + iif(started_wall IS NULL, 0, CAST(unixepoch('subsec') * 1000 AS INTEGER) - started_wall) FROM demo_clock),
      CAST(unixepoch('subsec') * 1000 AS INTEGER)),
    NEW.prospect_id, NEW.list_id);
END;
CREATE TRIGGER happening_of_change AFTER INSERT ON changes
  WHEN NEW.field NOT LIKE 'list:%' AND NEW.field NOT LIKE 'sequence:%'
    AND EXISTS (SELECT 1 FROM listeners WHERE kind = 'prospect.field_changed') BEGIN
  INSERT INTO happenings (kind, at, prospect_id, user_id, detail)
  VALUES ('prospect.field_changed', NEW.at, NEW.prospect_id, NEW.user_id,
    json_object('field', NEW.field, 'from', NEW.before, 'to', NEW.after));
END;
CREATE TRIGGER happening_of_owner AFTER UPDATE OF owner_id ON prospects
  WHEN NEW.owner_id IS NOT OLD.owner_id AND EXISTS (SELECT 1 FROM listeners WHERE kind = 'prospect.owner_changed') BEGIN
  INSERT INTO happenings (kind, at, prospect_id)
  VALUES ('prospect.owner_changed',
    coalesce((SELECT base + iif(started_wall IS NULL, 0, CAST(unixepoch('subsec') * 1000 AS INTEGER) - started_wall) FROM demo_clock),
      CAST(unixepoch('subsec') * 1000 AS INTEGER)),
    NEW.id);
END;

CREATE TABLE rules (
  id INTEGER PRIMARY KEY,
  -- It acts as its owner: what they may not, it does not.
  user_id INTEGER NOT NULL REFERENCES users (id),
  name TEXT NOT NULL,
  -- core/rules/rule.ts, as JSON.
  definition TEXT NOT NULL,
  -- The kinds of happenings that it listens for, as a JSON array.
  kinds TEXT NOT NULL,
  state TEXT NOT NULL DEFAULT 'off' CHECK (state IN ('off', 'on', 'held')),
  -- Why it holds until somebody has looked.
  held_because TEXT,
  -- The end of the address at which another program calls it; null for none.
  address TEXT UNIQUE,
  seen_happening INTEGER NOT NULL DEFAULT 0,
  -- Up to when it has looked whose time has come.
  looked_at INTEGER NOT NULL DEFAULT 0,
  made_at INTEGER NOT NULL
) STRICT;

CREATE TABLE rule_runs (
  id INTEGER PRIMARY KEY,
  rule_id INTEGER NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  -- What it was set off by: of the same it runs once for somebody; "once" where it does so only once for anybody.
  occasion TEXT NOT NULL,
  -- In words, for whoever asks why.
  because TEXT NOT NULL,
  cause_run INTEGER,
  depth INTEGER NOT NULL DEFAULT 0,
  at INTEGER NOT NULL,
  state TEXT NOT NULL DEFAULT 'going' CHECK (state IN ('going', 'done', 'stopped', 'taken_back')),
  UNIQUE (rule_id, prospect_id, occasion)
) STRICT;
CREATE INDEX rule_runs_of_person ON rule_runs (prospect_id, at);
CREATE INDEX rule_runs_of_rule ON rule_runs (rule_id, id);

CREATE TABLE rule_acts (
  id INTEGER PRIMARY KEY,
  run_id INTEGER NOT NULL REFERENCES rule_runs (id) ON DELETE CASCADE,
  nth INTEGER NOT NULL,
  due_at INTEGER NOT NULL,
  state TEXT NOT NULL DEFAULT 'due' CHECK (state IN ('due', 'done', 'refused', 'failed', 'taken_back')),
  acted_at INTEGER,
  -- What was done, or why not.
  said TEXT NOT NULL DEFAULT '',
  -- By which it is taken back: "bulk 3", "undo 5", "reminder 7"; null for what cannot be.
  undo TEXT,
  UNIQUE (run_id, nth)
) STRICT;
CREATE INDEX rule_acts_due ON rule_acts (due_at) WHERE state = 'due';

-- An archive is work too. The table is made anew for its kind.
CREATE TABLE jobs_new (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('look_through', 'import', 'search', 'verify', 'find_addresses', 'duplicates', 'learn', 'archive')),
  input TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  state TEXT NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'working', 'done', 'failed', 'cancelled')),
  done INTEGER NOT NULL DEFAULT 0,
  total INTEGER NOT NULL DEFAULT 0,
  problem TEXT,
  asked_at INTEGER NOT NULL,
  not_before INTEGER NOT NULL DEFAULT 0
) STRICT;
INSERT INTO jobs_new SELECT id, kind, input, user_id, state, done, total, problem, asked_at, not_before FROM jobs;
DROP TABLE jobs;
ALTER TABLE jobs_new RENAME TO jobs;
CREATE INDEX jobs_open ON jobs (state, id) WHERE state IN ('waiting', 'working');

-- Where a blind copy of every email goes that leaves from it, for tools that listen so; "" for nowhere.
ALTER TABLE mailboxes ADD COLUMN copy_to TEXT NOT NULL DEFAULT '';
