-- The database as it is now. Made from the migrations (server/db/migrations) by `npm run schema`; nobody has to read these.

CREATE TABLE address_revision (number INTEGER NOT NULL) STRICT;

CREATE TABLE answer_drafts (
  reply_id INTEGER NOT NULL REFERENCES replies (id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  text TEXT NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (reply_id, user_id)
) STRICT, WITHOUT ROWID;

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

CREATE TABLE approvals (
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  step_id TEXT NOT NULL,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL,
  PRIMARY KEY (sequence_id, step_id, prospect_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE block_list (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('address', 'domain')),
  value TEXT NOT NULL,
  reason TEXT NOT NULL CHECK (reason IN ('opted_out', 'bounced', 'added_by_rep')),
  at INTEGER NOT NULL, note TEXT NOT NULL DEFAULT '', user_id INTEGER REFERENCES users (id),
  UNIQUE (kind, value)
) STRICT;

CREATE TABLE block_removals (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL,
  value TEXT NOT NULL,
  reason TEXT NOT NULL,
  why TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL
) STRICT;

CREATE TABLE booking_asks (
  id INTEGER PRIMARY KEY,
  page_id INTEGER NOT NULL REFERENCES booking_pages (id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES users (id),
  -- Of the meeting that it becomes.
  token TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL,
  email TEXT NOT NULL,
  phone TEXT NOT NULL,
  place TEXT NOT NULL,
  starts_at INTEGER NOT NULL,
  ends_at INTEGER NOT NULL,
  visitor_zone TEXT NOT NULL,
  answers TEXT NOT NULL,
  -- Who asked, for the limits; by the machine's clock.
  caller TEXT NOT NULL,
  asked_wall INTEGER NOT NULL,
  -- By the app's clock.
  kept_until INTEGER NOT NULL
) STRICT;
CREATE INDEX booking_asks_by_time ON booking_asks (asked_wall);

CREATE TABLE booking_hosts (
  page_id INTEGER NOT NULL REFERENCES booking_pages (id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES users (id),
  PRIMARY KEY (page_id, user_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE booking_pages (
  id INTEGER PRIMARY KEY,
  slug TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL,
  user_id INTEGER NOT NULL REFERENCES users (id),
  -- core/meetings/booking-rules.ts, as JSON; what is missing is as usual.
  rules TEXT NOT NULL DEFAULT '{}',
  created_at INTEGER NOT NULL,
  removed_at INTEGER
) STRICT;

CREATE TABLE busy_times (
  calendar_id INTEGER NOT NULL REFERENCES calendars (id) ON DELETE CASCADE,
  starts_at INTEGER NOT NULL,
  ends_at INTEGER NOT NULL,
  PRIMARY KEY (calendar_id, starts_at, ends_at)
) STRICT, WITHOUT ROWID;

CREATE TABLE calendars (
  id INTEGER PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id),
  name TEXT NOT NULL,
  -- "" where a file was given.
  url TEXT NOT NULL DEFAULT '',
  file TEXT NOT NULL DEFAULT '',
  events INTEGER NOT NULL DEFAULT 0,
  read_at INTEGER,
  -- By the machine's clock: when to read it again, and why it could not be read.
  next_wall INTEGER NOT NULL DEFAULT 0,
  etag TEXT NOT NULL DEFAULT '',
  trouble TEXT
, failures INTEGER NOT NULL DEFAULT 0) STRICT;

CREATE TABLE changes (
  id INTEGER PRIMARY KEY,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE,
  field TEXT NOT NULL,
  before TEXT NOT NULL,
  after TEXT NOT NULL,
  source TEXT NOT NULL CHECK (source IN ('import', 'directory', 'form', 'edit', 'bulk', 'pattern', 'merge', 'undo')),
  -- The import's id, or the number that the changes of one bulk edit share.
  source_id INTEGER,
  detail TEXT NOT NULL DEFAULT '',
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL
) STRICT;
CREATE INDEX changes_by_prospect ON changes (prospect_id, id);
CREATE INDEX changes_by_source ON changes (source, source_id);
CREATE TRIGGER happening_of_change AFTER INSERT ON changes
  WHEN NEW.field NOT LIKE 'list:%' AND NEW.field NOT LIKE 'sequence:%'
    AND EXISTS (SELECT 1 FROM listeners WHERE kind = 'prospect.field_changed') BEGIN
  INSERT INTO happenings (kind, at, prospect_id, user_id, detail)
  VALUES ('prospect.field_changed', NEW.at, NEW.prospect_id, NEW.user_id,
    json_object('field', NEW.field, 'from', NEW.before, 'to', NEW.after));
END;

CREATE TABLE cleanings (
  prospect_id INTEGER PRIMARY KEY REFERENCES prospects (id) ON DELETE CASCADE,
  -- [{"field", "original", "cleaned", "rules": [], "refused": []}]
  fields TEXT NOT NULL,
  -- The rules that worked and those that were refused, one word for each time, for counting.
  rules TEXT NOT NULL,
  refused TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE TRIGGER cleanings_added AFTER INSERT ON cleanings BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'cleanings';
END;
CREATE TRIGGER cleanings_changed AFTER UPDATE ON cleanings BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'cleanings';
END;
CREATE TRIGGER cleanings_gone AFTER DELETE ON cleanings BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'cleanings';
END;

CREATE TABLE clock_moves (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('next_event', 'next_morning', 'until')),
  until INTEGER,
  now INTEGER,
  state TEXT NOT NULL DEFAULT 'asked' CHECK (state IN ('asked', 'moving', 'done', 'cancelled'))
) STRICT;

CREATE TABLE column_runs (
  id INTEGER PRIMARY KEY,
  column_id INTEGER NOT NULL REFERENCES columns (id) ON DELETE CASCADE,
  list_id INTEGER NOT NULL,
  wants TEXT NOT NULL CHECK (wants IN ('try', 'missing', 'old', 'all')),
  user_id INTEGER REFERENCES users (id),
  job_id INTEGER,
  at INTEGER NOT NULL,
  -- Whom a try chose, as a JSON array; null for the others.
  chosen TEXT,
  -- Sites read, questions asked, services asked; and what the assistant counted for its answers.
  asked INTEGER NOT NULL DEFAULT 0,
  tokens INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX column_runs_by_column ON column_runs (column_id, list_id, id);

CREATE TABLE column_uses (header TEXT PRIMARY KEY, use TEXT NOT NULL) STRICT, WITHOUT ROWID;

CREATE TABLE column_values (
  id INTEGER PRIMARY KEY,
  column_id INTEGER NOT NULL REFERENCES columns (id),
  code TEXT NOT NULL,
  company_id INTEGER REFERENCES companies (id),
  prospect_id INTEGER REFERENCES prospects (id),
  state TEXT NOT NULL CHECK (state IN ('found', 'nothing', 'failed', 'refused')),
  value TEXT NOT NULL DEFAULT '',
  -- What was answered and not believed.
  said TEXT NOT NULL DEFAULT '',
  problem TEXT,
  source_url TEXT NOT NULL DEFAULT '',
  source_text TEXT NOT NULL DEFAULT '',
  sureness TEXT NOT NULL DEFAULT 'likely' CHECK (sureness IN ('sure', 'likely', 'doubtful')),
  -- Whoever typed it; null for what was found.
  typed_by INTEGER REFERENCES users (id),
  -- Null: the assistant wrote it, and nobody has read it.
  read_at INTEGER,
  run_id INTEGER,
  at INTEGER NOT NULL,
  CHECK ((company_id IS NULL) != (prospect_id IS NULL))
) STRICT;
CREATE INDEX column_values_by_column ON column_values (column_id);
CREATE UNIQUE INDEX column_values_of_company ON column_values (company_id, column_id) WHERE company_id IS NOT NULL;
CREATE UNIQUE INDEX column_values_of_person ON column_values (prospect_id, column_id) WHERE prospect_id IS NOT NULL;
CREATE TRIGGER column_value_changes AFTER UPDATE OF value, read_at, company_id, prospect_id ON column_values
  WHEN OLD.value IS NOT NEW.value OR OLD.read_at IS NOT NEW.read_at OR OLD.company_id IS NOT NEW.company_id
    OR OLD.prospect_id IS NOT NEW.prospect_id BEGIN
  UPDATE prospects SET
    custom = CASE WHEN NEW.value = '' THEN json_remove(custom, '$.' || NEW.code) ELSE json_set(custom, '$.' || NEW.code, NEW.value) END,
    unread = CASE WHEN NEW.value != '' AND NEW.read_at IS NULL THEN json_set(unread, '$.' || NEW.code, NEW.value)
      ELSE json_remove(unread, '$.' || NEW.code) END
  WHERE (id = NEW.prospect_id OR company_id = NEW.company_id) AND live = 1
    AND coalesce(custom ->> ('$.' || NEW.code), '') IN ('', OLD.value);
END;
CREATE TRIGGER column_value_comes AFTER INSERT ON column_values WHEN NEW.value != '' BEGIN
  UPDATE prospects SET custom = json_set(custom, '$.' || NEW.code, NEW.value),
    unread = CASE WHEN NEW.read_at IS NULL THEN json_set(unread, '$.' || NEW.code, NEW.value) ELSE unread END
  WHERE (id = NEW.prospect_id OR company_id = NEW.company_id) AND live = 1 AND coalesce(custom ->> ('$.' || NEW.code), '') = '';
END;
CREATE TRIGGER column_value_goes AFTER DELETE ON column_values WHEN OLD.value != '' BEGIN
  UPDATE prospects SET custom = json_remove(custom, '$.' || OLD.code), unread = json_remove(unread, '$.' || OLD.code)
  WHERE (id = OLD.prospect_id OR company_id = OLD.company_id) AND custom ->> ('$.' || OLD.code) = OLD.value;
END;

CREATE TABLE columns (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  -- What texts call it; no other field is called so.
  code TEXT NOT NULL UNIQUE,
  kind TEXT NOT NULL CHECK (kind IN ('site', 'ask', 'formula', 'service')),
  gives TEXT NOT NULL CHECK (gives IN ('text', 'link', 'number', 'picture')),
  -- Whether everybody of a company has the same value.
  scope TEXT NOT NULL CHECK (scope IN ('company', 'person')),
  -- As JSON (core/research/column.ts).
  settings TEXT NOT NULL,
  -- A service's key (server/secrets.ts).
  key_sealed TEXT NOT NULL DEFAULT '',
  -- A value older than this is looked at anew when it is asked for.
  fresh_days INTEGER NOT NULL,
  user_id INTEGER REFERENCES users (id),
  made_at INTEGER NOT NULL
) STRICT;

CREATE TABLE "companies" (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  -- Null where only the name is known.
  domain TEXT UNIQUE,
  industry TEXT NOT NULL DEFAULT '',
  employees INTEGER,
  region TEXT NOT NULL DEFAULT '',
  about TEXT NOT NULL DEFAULT '',
  -- A second name of this company; its domain still leads here.
  merged_into INTEGER REFERENCES companies (id)
, employees_to INTEGER) STRICT;
CREATE INDEX companies_by_name ON companies (name);
CREATE TRIGGER companies_renamed AFTER UPDATE OF name ON companies WHEN OLD.name IS NOT NEW.name BEGIN
  UPDATE prospects SET company = NEW.name WHERE company_id = NEW.id;
END;

CREATE TABLE crm_conflicts (
  id INTEGER PRIMARY KEY,
  crm_id INTEGER NOT NULL REFERENCES crms (id) ON DELETE CASCADE,
  link_id INTEGER NOT NULL REFERENCES crm_links (id) ON DELETE CASCADE,
  field TEXT NOT NULL,
  here TEXT NOT NULL,
  there TEXT NOT NULL,
  at INTEGER NOT NULL,
  decided TEXT CHECK (decided IN ('here', 'there')),
  UNIQUE (link_id, field)
) STRICT;
CREATE INDEX crm_conflicts_open ON crm_conflicts (crm_id, id) WHERE decided IS NULL;

CREATE TABLE crm_deals (
  id INTEGER PRIMARY KEY,
  crm_id INTEGER NOT NULL REFERENCES crms (id) ON DELETE CASCADE,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  there_id TEXT NOT NULL,
  name TEXT NOT NULL,
  -- The id of its stage there.
  stage TEXT NOT NULL,
  value TEXT NOT NULL DEFAULT '',
  changed_at INTEGER NOT NULL,
  UNIQUE (crm_id, there_id)
) STRICT;
CREATE INDEX crm_deals_of_person ON crm_deals (prospect_id);

CREATE TABLE crm_links (
  id INTEGER PRIMARY KEY,
  crm_id INTEGER NOT NULL REFERENCES crms (id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('person', 'company')),
  -- A person's number here; null for a company, which is known by its web domain, and for whoever is no longer here.
  prospect_id INTEGER REFERENCES prospects (id),
  there_id TEXT NOT NULL,
  -- A person's company there.
  company_there TEXT,
  -- By field, as JSON: on what both agreed (null before the first time), and what the other side says.
  base TEXT,
  there TEXT NOT NULL DEFAULT '{}',
  there_at INTEGER NOT NULL,
  -- 1: something changed here since; 2: that is being told. Of one who is gone here: they are to go there, too.
  is_dirty INTEGER NOT NULL DEFAULT 0 CHECK (is_dirty IN (0, 1, 2)),
  -- Gone on one side, until somebody says what follows; 'left': each goes its own way.
  state TEXT NOT NULL DEFAULT 'linked' CHECK (state IN ('linked', 'gone_there', 'gone_here', 'left')),
  UNIQUE (crm_id, kind, there_id)
) STRICT;
CREATE INDEX crm_links_dirty ON crm_links (crm_id, id) WHERE is_dirty > 0 AND state = 'linked';
CREATE INDEX crm_links_gone ON crm_links (crm_id, id) WHERE state IN ('gone_there', 'gone_here');
CREATE INDEX crm_links_in_step ON crm_links (crm_id) WHERE kind = 'person' AND state = 'linked' AND base IS NOT NULL;
CREATE INDEX crm_links_of_company ON crm_links (crm_id, company_there) WHERE company_there IS NOT NULL;
CREATE UNIQUE INDEX crm_links_of_person ON crm_links (prospect_id, crm_id) WHERE prospect_id IS NOT NULL;

CREATE TABLE crm_outbox (
  id INTEGER PRIMARY KEY,
  crm_id INTEGER NOT NULL REFERENCES crms (id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('person', 'activity', 'deal')),
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  -- Under which it is made there: once, however often it is asked.
  external_id TEXT NOT NULL,
  -- What it says, as JSON.
  body TEXT NOT NULL,
  at INTEGER NOT NULL,
  state TEXT NOT NULL DEFAULT 'due' CHECK (state IN ('due', 'done', 'failed')),
  tried_at INTEGER,
  -- What it said to it, where it refused.
  answer TEXT NOT NULL DEFAULT '',
  UNIQUE (crm_id, external_id)
) STRICT;
CREATE INDEX crm_outbox_due ON crm_outbox (crm_id, id) WHERE state = 'due';
CREATE INDEX crm_outbox_failed ON crm_outbox (crm_id) WHERE state = 'failed';
CREATE INDEX crm_outbox_of_person ON crm_outbox (prospect_id, kind);

CREATE TABLE crms (
  id INTEGER PRIMARY KEY,
  -- It acts as this user: what they may not, it does not.
  user_id INTEGER NOT NULL REFERENCES users (id),
  name TEXT NOT NULL,
  url TEXT NOT NULL,
  -- How it is asked (core/crm/dialect.ts), and what goes which way (core/crm/settings.ts), as JSON.
  dialect TEXT NOT NULL,
  settings TEXT NOT NULL,
  client_id TEXT NOT NULL DEFAULT '',
  -- Sealed (server/secrets.ts): the client's secret, the key or refresh token, and the access that it gave until then.
  client_secret_sealed TEXT NOT NULL DEFAULT '',
  key_sealed TEXT NOT NULL,
  access_sealed TEXT NOT NULL DEFAULT '',
  access_until_wall INTEGER NOT NULL DEFAULT 0,
  -- 'looking': tried without consequences; 'held': it does nothing until somebody has looked.
  state TEXT NOT NULL DEFAULT 'new' CHECK (state IN ('new', 'looking', 'looked', 'on', 'off', 'held')),
  held_because TEXT,
  -- What can be chosen there (saved filters, stages, owners), as JSON; null until it was asked.
  choices TEXT,
  -- Where the pass through what changed there stands, as JSON; null between two.
  pass TEXT,
  -- Per kind of thing, the newest change that was seen, as JSON.
  seen TEXT NOT NULL DEFAULT '{}',
  -- What the last look through everything found, as JSON.
  report TEXT,
  looked_at INTEGER,
  -- The last pass and the next one, by the machine's clock: an outside program is asked at its pace. Earlier where it says
  -- itself that something changed.
  passed_wall INTEGER NOT NULL DEFAULT 0,
  next_wall INTEGER NOT NULL DEFAULT 0,
  failing_since INTEGER,
  retry_at INTEGER,
  tries INTEGER NOT NULL DEFAULT 0,
  -- Why it is tried again.
  failing_because TEXT,
  -- The kinds of happenings that it listens for, as a JSON array, and up to which they were looked at.
  kinds TEXT NOT NULL DEFAULT '[]',
  seen_happening INTEGER NOT NULL DEFAULT 0,
  -- The end of the address at which it says that something changed, and the secret with which it signs that.
  address TEXT NOT NULL UNIQUE,
  hook_secret_sealed TEXT NOT NULL,
  made_at INTEGER NOT NULL
) STRICT;

CREATE TABLE custom_fields (name TEXT PRIMARY KEY) STRICT, WITHOUT ROWID;

CREATE TABLE "decisions" (
  id INTEGER PRIMARY KEY,
  journey_id INTEGER NOT NULL REFERENCES journeys (id),
  at INTEGER NOT NULL,
  node_id TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN (
    'start', 'fork', 'skip', 'lapse', 'move', 'wait', 'hold', 'release', 'claim', 'stop', 'finish')),
  outcome TEXT NOT NULL DEFAULT '',
  -- What it was decided by (JSON): numbers and rules, nobody's words or name.
  inputs TEXT NOT NULL DEFAULT '{}'
) STRICT;
CREATE INDEX decisions_by_journey ON decisions (journey_id, id);
CREATE TRIGGER decisions_stay BEFORE UPDATE ON decisions BEGIN SELECT RAISE(ABORT, 'decisions are append-only'); END;

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
CREATE INDEX deliveries_of_happening ON deliveries (happening_id);
CREATE INDEX deliveries_of_person ON deliveries (webhook_id, prospect_id, id) WHERE state = 'due';

CREATE TABLE demo_clock (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  base INTEGER NOT NULL,
  started_wall INTEGER
) STRICT;

CREATE TABLE domain_checks (domain TEXT PRIMARY KEY, result TEXT NOT NULL, at INTEGER NOT NULL) STRICT, WITHOUT ROWID;

CREATE TABLE drifts_seen (
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (mailbox_id, kind)
) STRICT, WITHOUT ROWID;

CREATE TABLE duplicates (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('person', 'company')),
  a_id INTEGER NOT NULL,
  b_id INTEGER NOT NULL,
  reason TEXT NOT NULL,
  state TEXT NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'merged', 'apart')),
  by_rule INTEGER NOT NULL DEFAULT 0,
  at INTEGER NOT NULL,
  UNIQUE (kind, a_id, b_id)
) STRICT;
CREATE INDEX duplicates_open ON duplicates (state, id);
CREATE TRIGGER duplicates_added AFTER INSERT ON duplicates BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'duplicates';
END;
CREATE TRIGGER duplicates_changed AFTER UPDATE ON duplicates BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'duplicates';
END;
CREATE TRIGGER duplicates_gone AFTER DELETE ON duplicates BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'duplicates';
END;

CREATE TABLE engine_lease (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  holder TEXT NOT NULL,
  expires_wall INTEGER NOT NULL,
  ticked_wall INTEGER
, problem TEXT) STRICT;

CREATE TABLE erased_addresses (hash TEXT PRIMARY KEY, at INTEGER NOT NULL, newest_import INTEGER NOT NULL DEFAULT 0) STRICT, WITHOUT ROWID;

CREATE TABLE "events" (
  id INTEGER PRIMARY KEY,
  at INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN (
    'journey_started', 'journey_stopped', 'journey_finished', 'email_sent', 'email_refused',
    'opened', 'clicked', 'replied', 'away', 'bounced', 'opted_out', 'booked', 'answered',
    'left_company', 'complained', 'likely_reply', 'booking_cancelled', 'booking_moved', 'unblocked',
    'touch_done', 'touch_skipped', 'accepted', 'approved',
    'labelled', 'label_undone', 'stage_set', 'handed_over', 'challenged', 'journey_resumed',
    'meeting_held', 'meeting_missed', 'invitation_answered',
    'page_visited', 'film_watched', 'file_opened', 'file_saved', 'booking_begun'
  )),
  prospect_id INTEGER REFERENCES prospects (id),
  journey_id INTEGER REFERENCES journeys (id),
  touch_id INTEGER REFERENCES touches (id),
  mailbox_id INTEGER REFERENCES mailboxes (id),
  reply_id INTEGER REFERENCES replies (id),
  user_id INTEGER REFERENCES users (id),
  detail TEXT,
  bounce TEXT CHECK (bounce IN ('hard', 'policy', 'soft'))
) STRICT;
CREATE INDEX events_by_journey ON events (journey_id, kind, at, touch_id);
CREATE INDEX events_by_kind ON events (kind, at);
CREATE INDEX events_by_prospect ON events (prospect_id, at);
CREATE INDEX events_by_touch ON events (touch_id, kind, at) WHERE touch_id IS NOT NULL;
CREATE TRIGGER events_remain BEFORE DELETE ON events BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
CREATE TRIGGER events_stay BEFORE UPDATE ON events
  WHEN NEW.id IS NOT OLD.id OR NEW.at IS NOT OLD.at OR NEW.kind IS NOT OLD.kind OR NEW.bounce IS NOT OLD.bounce
    OR NEW.journey_id IS NOT OLD.journey_id OR NEW.touch_id IS NOT OLD.touch_id
    OR NEW.mailbox_id IS NOT OLD.mailbox_id OR NEW.reply_id IS NOT OLD.reply_id
    OR NEW.user_id IS NOT OLD.user_id OR (NEW.detail IS NOT OLD.detail AND NEW.detail IS NOT NULL)
  BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
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
    WHEN 'page_visited' THEN 'page.visited'
    WHEN 'film_watched' THEN 'film.watched'
    WHEN 'file_opened' THEN 'file.opened'
    WHEN 'file_saved' THEN 'file.saved'
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
CREATE TRIGGER outcome_of_event AFTER INSERT ON events
  WHEN NEW.journey_id IS NOT NULL AND (NEW.kind = 'opened' OR NEW.kind = 'clicked' OR NEW.kind = 'replied' OR NEW.kind = 'bounced'
    OR NEW.kind = 'opted_out' OR NEW.kind = 'complained' OR NEW.kind = 'booked' OR NEW.kind = 'booking_cancelled') BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.journey_id);
END;
CREATE TRIGGER outcome_of_events_touch AFTER INSERT ON events
  WHEN NEW.touch_id IS NOT NULL
    AND (NEW.kind = 'opened' OR NEW.kind = 'clicked' OR NEW.kind = 'replied' OR NEW.kind = 'bounced') BEGIN
  INSERT OR IGNORE INTO outcomes_due
    SELECT journey_id FROM touches WHERE id = NEW.touch_id AND journey_id IS NOT NULL AND journey_id IS NOT NEW.journey_id;
END;
CREATE TRIGGER reconsider_events AFTER INSERT ON events
  WHEN NEW.kind IN ('opened', 'clicked', 'accepted', 'labelled', 'page_visited', 'film_watched') BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE prospect_id = NEW.prospect_id AND state = 'active';
END;

CREATE TABLE exchange_mails (
  id INTEGER PRIMARY KEY,
  from_mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  to_mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  message_id TEXT NOT NULL UNIQUE,
  in_reply_to TEXT,
  subject TEXT NOT NULL,
  body TEXT NOT NULL,
  due_at INTEGER NOT NULL,
  sent_at INTEGER,
  arrived_at INTEGER
) STRICT;
CREATE INDEX exchange_mails_open ON exchange_mails (from_mailbox_id, due_at) WHERE sent_at IS NULL;
CREATE INDEX exchange_mails_sent ON exchange_mails (from_mailbox_id, sent_at);

CREATE TABLE failures (
  kind TEXT NOT NULL,
  name TEXT NOT NULL,
  count INTEGER NOT NULL,
  last_wall INTEGER NOT NULL,
  words TEXT NOT NULL,
  PRIMARY KEY (kind, name)
) STRICT, WITHOUT ROWID;

CREATE TABLE file_looks (
  file_id INTEGER NOT NULL REFERENCES files (id) ON DELETE CASCADE,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  -- When they were given its link for the last time, and in which email; null: by no email, or by none yet.
  given_at INTEGER,
  touch_id INTEGER REFERENCES touches (id),
  -- Where it came with a page that is theirs, it ends with that.
  page_ends_at INTEGER,
  opened_at INTEGER,
  last_at INTEGER,
  -- How many pages it has, and the seconds for which each was before them, by its number.
  pages INTEGER NOT NULL DEFAULT 0,
  seconds TEXT NOT NULL DEFAULT '{}',
  saved_at INTEGER,
  -- Passwords that were wrong, since when.
  tries INTEGER NOT NULL DEFAULT 0,
  tries_since INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (file_id, prospect_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX file_looks_of_person ON file_looks (prospect_id);
CREATE INDEX file_looks_of_touch ON file_looks (touch_id) WHERE touch_id IS NOT NULL;

CREATE TABLE files (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  type TEXT NOT NULL,
  bytes BLOB NOT NULL,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL
, lock TEXT NOT NULL DEFAULT '', days INTEGER) STRICT;

CREATE TABLE films (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  -- The file's name in the folder: nobody guesses it.
  file TEXT NOT NULL UNIQUE,
  -- "" until all of it has come.
  type TEXT NOT NULL DEFAULT '' CHECK (type IN ('', 'video/mp4', 'video/webm')),
  -- As many bytes as are to come.
  bytes INTEGER NOT NULL,
  duration_ms INTEGER NOT NULL DEFAULT 0,
  starts_ms INTEGER NOT NULL DEFAULT 0,
  ends_ms INTEGER NOT NULL DEFAULT 0,
  -- What is said, as it was typed: a line with its time each (core/pages/captions.ts).
  captions TEXT NOT NULL DEFAULT '',
  captions_language TEXT NOT NULL DEFAULT 'en',
  -- The picture before it plays, and some of its first seconds beside each other.
  poster BLOB,
  frames BLOB,
  user_id INTEGER REFERENCES users (id),
  -- Made for one person: it takes the place of the page's own.
  prospect_id INTEGER REFERENCES prospects (id),
  made_at INTEGER NOT NULL
) STRICT;
CREATE INDEX films_of_person ON films (prospect_id, id) WHERE prospect_id IS NOT NULL;

CREATE TABLE filters (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  definition TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  saved_at INTEGER NOT NULL
, sharing TEXT NOT NULL DEFAULT 'use' CHECK (sharing IN ('mine', 'use', 'change'))) STRICT;

CREATE TABLE findings_set_aside (
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (user_id, sequence_id, key)
) STRICT, WITHOUT ROWID;

CREATE TABLE folder_marks (
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id) ON DELETE CASCADE,
  path TEXT NOT NULL,
  uid_validity INTEGER NOT NULL,
  last_uid INTEGER NOT NULL,
  PRIMARY KEY (mailbox_id, path)
) STRICT, WITHOUT ROWID;

CREATE TABLE forms (
  list_id INTEGER PRIMARY KEY REFERENCES lists (id) ON DELETE CASCADE,
  token TEXT NOT NULL UNIQUE,
  sequence_id INTEGER REFERENCES sequences (id) ON DELETE SET NULL,
  user_id INTEGER REFERENCES users (id),
  made_at INTEGER NOT NULL
, fields TEXT NOT NULL DEFAULT '[]') STRICT;

CREATE TABLE found_people (
  id INTEGER PRIMARY KEY,
  search_id INTEGER NOT NULL REFERENCES searches (id) ON DELETE CASCADE,
  reference TEXT NOT NULL,
  -- As the directory has them, and cleaned (JSON).
  raw TEXT NOT NULL,
  fields TEXT NOT NULL,
  name TEXT NOT NULL,
  fits INTEGER NOT NULL CHECK (fits IN (0, 1)),
  reason TEXT,
  detail TEXT NOT NULL DEFAULT '',
  known_id INTEGER REFERENCES prospects (id),
  kept_id INTEGER REFERENCES prospects (id),
  UNIQUE (search_id, reference)
) STRICT;
CREATE INDEX found_people_by_fit ON found_people (search_id, fits, id);

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
CREATE INDEX happenings_by_time ON happenings (at);
CREATE INDEX happenings_of_person ON happenings (prospect_id) WHERE prospect_id IS NOT NULL;

CREATE TABLE "holds" (
  id INTEGER PRIMARY KEY,
  scope TEXT NOT NULL CHECK (scope IN ('journey', 'prospect', 'company')),
  scope_id INTEGER NOT NULL,
  reason TEXT NOT NULL CHECK (reason IN (
    'paused_by_rep', 'colleague_replied', 'away', 'came_back_twice', 'challenged', 'refused_by_host', 'after_restore')),
  detail TEXT,
  since INTEGER NOT NULL,
  until INTEGER,
  -- Who of the company answered: not held themselves.
  cause_prospect_id INTEGER REFERENCES prospects (id),
  UNIQUE (scope, scope_id, reason)
) STRICT;
CREATE TRIGGER decide_hold AFTER INSERT ON holds BEGIN
  INSERT INTO decisions (journey_id, at, node_id, kind, outcome, inputs)
  SELECT j.id, NEW.since, coalesce(j.place_id, ''), 'hold', NEW.reason,
    json_object('scope', NEW.scope, 'until', NEW.until, 'cause', NEW.cause_prospect_id)
  FROM journeys j JOIN prospects p ON p.id = j.prospect_id
  WHERE j.state = 'active' AND ((NEW.scope = 'journey' AND j.id = NEW.scope_id) OR (NEW.scope = 'prospect' AND p.id = NEW.scope_id)
    OR (NEW.scope = 'company' AND p.company_id = NEW.scope_id AND NEW.cause_prospect_id IS NOT p.id));
END;
CREATE TRIGGER reconsider_released AFTER DELETE ON holds BEGIN
  INSERT OR IGNORE INTO reconsider SELECT j.id FROM journeys j JOIN prospects p ON p.id = j.prospect_id
    WHERE j.state = 'active' AND ((OLD.scope = 'journey' AND j.id = OLD.scope_id)
      OR (OLD.scope = 'prospect' AND p.id = OLD.scope_id) OR (OLD.scope = 'company' AND p.company_id = OLD.scope_id));
END;
CREATE TRIGGER replan_held AFTER INSERT ON holds BEGIN
  INSERT OR IGNORE INTO replan SELECT j.id FROM journeys j JOIN prospects p ON p.id = j.prospect_id
    WHERE j.state = 'active' AND ((NEW.scope = 'journey' AND j.id = NEW.scope_id)
      OR (NEW.scope = 'prospect' AND p.id = NEW.scope_id) OR (NEW.scope = 'company' AND p.company_id = NEW.scope_id));
END;
CREATE TRIGGER replan_held_longer AFTER UPDATE ON holds BEGIN
  INSERT OR IGNORE INTO replan SELECT j.id FROM journeys j JOIN prospects p ON p.id = j.prospect_id
    WHERE j.state = 'active' AND ((NEW.scope = 'journey' AND j.id = NEW.scope_id)
      OR (NEW.scope = 'prospect' AND p.id = NEW.scope_id) OR (NEW.scope = 'company' AND p.company_id = NEW.scope_id));
END;
CREATE TRIGGER replan_released AFTER DELETE ON holds BEGIN
  INSERT OR IGNORE INTO replan SELECT j.id FROM journeys j JOIN prospects p ON p.id = j.prospect_id
    WHERE j.state = 'active' AND ((OLD.scope = 'journey' AND j.id = OLD.scope_id)
      OR (OLD.scope = 'prospect' AND p.id = OLD.scope_id) OR (OLD.scope = 'company' AND p.company_id = OLD.scope_id));
END;

CREATE TABLE import_rows (
  import_id INTEGER NOT NULL REFERENCES imports (id) ON DELETE CASCADE,
  line INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('refused', 'repeated', 'known', 'flagged')),
  prospect_id INTEGER,
  -- A reason, or for the known the fields with their old and new values (JSON).
  detail TEXT NOT NULL,
  PRIMARY KEY (import_id, kind, line)
) STRICT, WITHOUT ROWID;

CREATE TABLE imports (
  id INTEGER PRIMARY KEY,
  file_name TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  rows INTEGER NOT NULL,
  added INTEGER NOT NULL,
  known INTEGER NOT NULL,
  refused INTEGER NOT NULL,
  at INTEGER NOT NULL
, list_id INTEGER REFERENCES lists (id) ON DELETE SET NULL, state TEXT NOT NULL DEFAULT 'done'
  CHECK (state IN ('columns', 'looking', 'ready', 'importing', 'done', 'undone', 'failed')), settings TEXT NOT NULL DEFAULT '{}', report TEXT NOT NULL DEFAULT '{}', stored INTEGER NOT NULL DEFAULT 0, problem TEXT) STRICT;

CREATE TABLE "jobs" (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('look_through', 'import', 'search', 'verify', 'find_addresses', 'duplicates', 'learn', 'archive',
    'research', 'try_research', 'page_pictures')),
  input TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  state TEXT NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'working', 'done', 'failed', 'cancelled')),
  done INTEGER NOT NULL DEFAULT 0,
  total INTEGER NOT NULL DEFAULT 0,
  problem TEXT,
  asked_at INTEGER NOT NULL,
  not_before INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX jobs_open ON jobs (state, id) WHERE state IN ('waiting', 'working');

CREATE TABLE journey_outcomes (
  sequence_id INTEGER NOT NULL,
  journey_id INTEGER NOT NULL,
  version INTEGER NOT NULL,
  -- Instants in ms (core/results/figures.ts).
  started_at INTEGER NOT NULL,
  ended_at INTEGER,
  stopped_at INTEGER,
  written_at INTEGER,
  reached_at INTEGER,
  bounced_at INTEGER,
  answered_at INTEGER,
  positive_at INTEGER,
  booked_at INTEGER,
  opted_out_at INTEGER,
  opened_at INTEGER,
  clicked_at INTEGER, prospect_id INTEGER NOT NULL DEFAULT 0, mailbox_id INTEGER, country TEXT NOT NULL DEFAULT '', stage TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (sequence_id, journey_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX journey_outcomes_answered ON journey_outcomes (answered_at) WHERE answered_at IS NOT NULL;
CREATE INDEX journey_outcomes_booked ON journey_outcomes (booked_at) WHERE booked_at IS NOT NULL;
CREATE INDEX journey_outcomes_bounced ON journey_outcomes (bounced_at) WHERE bounced_at IS NOT NULL;
CREATE INDEX journey_outcomes_by_start ON journey_outcomes (started_at, written_at, reached_at, answered_at, positive_at, booked_at);
CREATE INDEX journey_outcomes_opted_out ON journey_outcomes (opted_out_at) WHERE opted_out_at IS NOT NULL;
CREATE INDEX journey_outcomes_positive ON journey_outcomes (positive_at) WHERE positive_at IS NOT NULL;
CREATE INDEX journey_outcomes_written ON journey_outcomes (written_at) WHERE written_at IS NOT NULL;
CREATE TRIGGER outcomes_changed AFTER INSERT ON journey_outcomes BEGIN
  INSERT INTO outcome_revisions VALUES (NEW.sequence_id, 1) ON CONFLICT DO UPDATE SET number = number + 1;
END;
CREATE TRIGGER outcomes_gone AFTER DELETE ON journey_outcomes BEGIN
  INSERT INTO outcome_revisions VALUES (OLD.sequence_id, 1) ON CONFLICT DO UPDATE SET number = number + 1;
END;

CREATE VIEW journey_outcomes_now AS
SELECT j.sequence_id, j.id AS journey_id, j.version, j.started_at, j.ended_at,
  CASE WHEN j.state = 'stopped' THEN coalesce(j.ended_at, j.started_at) END AS stopped_at,
  (SELECT min(t.at) FROM touch_outcomes t WHERE t.sequence_id = j.sequence_id AND t.journey_id = j.id
    AND t.kind NOT IN ('profile_view', 'errand')) AS written_at,
  (SELECT min(t.reached_at) FROM touch_outcomes t WHERE t.sequence_id = j.sequence_id AND t.journey_id = j.id) AS reached_at,
  (SELECT CASE WHEN min(t.reached_at) IS NULL THEN max(t.bounced_at) END FROM touch_outcomes t
    WHERE t.sequence_id = j.sequence_id AND t.journey_id = j.id) AS bounced_at,
  (SELECT min(at) FROM (
    SELECT min(e.at) AS at FROM events e WHERE e.journey_id = j.id AND e.kind = 'replied'
    UNION ALL SELECT min(t.answered_at) FROM touch_outcomes t
      WHERE t.sequence_id = j.sequence_id AND t.journey_id = j.id AND t.kind = 'call')) AS answered_at,
  (SELECT min(at) FROM (
    SELECT min(r.at) AS at FROM events e JOIN replies r ON r.id = e.reply_id JOIN labels l ON l.id = r.label_id AND l.is_positive = 1
      WHERE e.journey_id = j.id AND e.kind = 'replied'
    UNION ALL SELECT min(e.at) FROM events e WHERE e.journey_id = j.id AND e.kind = 'booked' AND NOT EXISTS (
      SELECT 1 FROM events c WHERE c.journey_id = j.id AND c.kind = 'booking_cancelled' AND c.id > e.id))) AS positive_at,
  (SELECT min(e.at) FROM events e WHERE e.journey_id = j.id AND e.kind = 'booked' AND NOT EXISTS (
    SELECT 1 FROM events c WHERE c.journey_id = j.id AND c.kind = 'booking_cancelled' AND c.id > e.id)) AS booked_at,
  (SELECT min(e.at) FROM events e WHERE e.journey_id = j.id AND e.kind IN ('opted_out', 'complained')) AS opted_out_at,
  (SELECT min(t.opened_at) FROM touch_outcomes t WHERE t.sequence_id = j.sequence_id AND t.journey_id = j.id) AS opened_at,
  (SELECT min(t.clicked_at) FROM touch_outcomes t WHERE t.sequence_id = j.sequence_id AND t.journey_id = j.id) AS clicked_at,
  j.prospect_id, j.mailbox_id, p.country, p.stage
FROM journeys j JOIN prospects p ON p.id = j.prospect_id;

CREATE TABLE "journeys" (
  id INTEGER PRIMARY KEY,
  sequence_id INTEGER NOT NULL REFERENCES sequences (id),
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  -- 0 is the latest; earlier ones, where somebody was started again, count up.
  round INTEGER NOT NULL DEFAULT 0,
  state TEXT NOT NULL DEFAULT 'active' CHECK (state IN ('active', 'finished', 'stopped')),
  version INTEGER NOT NULL DEFAULT 1,
  -- The step, fork or end they stand before; null: the path is over.
  place_id TEXT,
  -- The instant from which its wait counts.
  since INTEGER NOT NULL DEFAULT 0,
  -- When the walk is looked at again by itself; null: not before something changes.
  wake_at INTEGER,
  -- The thread's mailbox, from the first email on.
  mailbox_id INTEGER REFERENCES mailboxes (id),
  due_at INTEGER NOT NULL,
  -- The recorded plan: when and from where the next email goes, or why it waits.
  next_at INTEGER,
  next_mailbox_id INTEGER REFERENCES mailboxes (id),
  wait_reason TEXT,
  wait_detail TEXT,
  stop_reason TEXT,
  stop_detail TEXT,
  ended_at INTEGER,
  started_at INTEGER NOT NULL,
  UNIQUE (sequence_id, prospect_id, round)
) STRICT;
CREATE INDEX journeys_active ON journeys (state, next_at) WHERE state = 'active';
CREATE INDEX journeys_by_prospect ON journeys (prospect_id);
CREATE INDEX journeys_next ON journeys (sequence_id, next_at) WHERE state = 'active' AND next_at IS NOT NULL;
CREATE INDEX journeys_of_sequence ON journeys (sequence_id, state, place_id);
CREATE UNIQUE INDEX journeys_one_active ON journeys (prospect_id) WHERE state = 'active';
CREATE INDEX journeys_to_wake ON journeys (wake_at) WHERE state = 'active' AND wake_at IS NOT NULL;
CREATE TRIGGER decide_end AFTER UPDATE OF state ON journeys WHEN OLD.state = 'active' AND NEW.state != 'active' BEGIN
  INSERT INTO decisions (journey_id, at, node_id, kind, outcome)
  VALUES (NEW.id, coalesce(NEW.ended_at, NEW.since), coalesce(OLD.place_id, ''),
    CASE NEW.state WHEN 'finished' THEN 'finish' ELSE 'stop' END, coalesce(NEW.stop_reason, ''));
END;
CREATE TRIGGER decide_start AFTER INSERT ON journeys WHEN NEW.state = 'active' BEGIN
  INSERT INTO decisions (journey_id, at, node_id, kind) VALUES (NEW.id, NEW.started_at, coalesce(NEW.place_id, ''), 'start');
END;
CREATE TRIGGER outcome_begins AFTER INSERT ON journeys BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.id);
END;
CREATE TRIGGER outcome_ends AFTER UPDATE OF state, version, ended_at, started_at, prospect_id, mailbox_id ON journeys
  WHEN NEW.state IS NOT OLD.state OR NEW.version IS NOT OLD.version OR NEW.ended_at IS NOT OLD.ended_at OR NEW.started_at IS NOT OLD.started_at
    OR NEW.prospect_id IS NOT OLD.prospect_id OR NEW.mailbox_id IS NOT OLD.mailbox_id BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.id);
END;
CREATE TRIGGER outcome_goes AFTER DELETE ON journeys BEGIN
  DELETE FROM touch_outcomes WHERE sequence_id = OLD.sequence_id AND journey_id = OLD.id;
  DELETE FROM journey_outcomes WHERE sequence_id = OLD.sequence_id AND journey_id = OLD.id;
END;
CREATE TRIGGER outcome_moves AFTER UPDATE OF sequence_id ON journeys WHEN NEW.sequence_id IS NOT OLD.sequence_id BEGIN
  DELETE FROM touch_outcomes WHERE sequence_id = OLD.sequence_id AND journey_id = NEW.id;
  DELETE FROM journey_outcomes WHERE sequence_id = OLD.sequence_id AND journey_id = NEW.id;
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.id);
END;
CREATE TRIGGER replan_asked AFTER UPDATE OF wait_reason ON journeys
  WHEN NEW.wait_reason IS NOT OLD.wait_reason
    AND ('merge_field_empty' IN (NEW.wait_reason, OLD.wait_reason) OR 'text_broken' IN (NEW.wait_reason, OLD.wait_reason)
      OR 'line_unread' IN (NEW.wait_reason, OLD.wait_reason) OR 'picture_unmade' IN (NEW.wait_reason, OLD.wait_reason)
      OR 'likely_reply' IN (NEW.wait_reason, OLD.wait_reason) OR 'no_mailbox' IN (NEW.wait_reason, OLD.wait_reason)
      OR 'refused_for_now' IN (NEW.wait_reason, OLD.wait_reason)) BEGIN
  INSERT OR IGNORE INTO replan VALUES (NEW.id);
END;
CREATE TRIGGER replan_begun AFTER INSERT ON journeys BEGIN
  INSERT OR IGNORE INTO replan VALUES (NEW.id);
END;
CREATE TRIGGER replan_moved AFTER UPDATE OF state, version, place_id, since, wake_at, mailbox_id, due_at, sequence_id ON journeys
  WHEN NEW.state IS NOT OLD.state OR NEW.version IS NOT OLD.version OR NEW.place_id IS NOT OLD.place_id OR NEW.since IS NOT OLD.since
    OR NEW.wake_at IS NOT OLD.wake_at OR NEW.mailbox_id IS NOT OLD.mailbox_id OR NEW.due_at IS NOT OLD.due_at
    OR NEW.sequence_id IS NOT OLD.sequence_id BEGIN
  INSERT OR IGNORE INTO replan VALUES (NEW.id);
END;

CREATE TABLE labels (
  id INTEGER PRIMARY KEY,
  -- One of core/replies/labels.ts; null for one of the team's own.
  key TEXT UNIQUE,
  name TEXT NOT NULL,
  position INTEGER NOT NULL,
  -- What follows when it is set (core/replies/label-effects.ts), as JSON; what is missing is as usual for it.
  effects TEXT NOT NULL DEFAULT '{}',
  removed_at INTEGER
, is_positive INTEGER NOT NULL DEFAULT 0 CHECK (is_positive IN (0, 1))) STRICT;
CREATE UNIQUE INDEX labels_by_name ON labels (name) WHERE removed_at IS NULL;
CREATE TRIGGER outcomes_of_labels AFTER UPDATE OF is_positive ON labels WHEN NEW.is_positive IS NOT OLD.is_positive BEGIN
  INSERT OR IGNORE INTO outcomes_due
    SELECT e.journey_id FROM replies r JOIN events e ON e.prospect_id = r.prospect_id AND e.kind = 'replied'
    WHERE r.label_id = NEW.id AND e.journey_id IS NOT NULL;
END;

CREATE TABLE let_go (
  hold_id INTEGER NOT NULL REFERENCES holds (id) ON DELETE CASCADE,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE,
  at INTEGER NOT NULL,
  PRIMARY KEY (hold_id, prospect_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX let_go_of_prospect ON let_go (prospect_id);
CREATE TRIGGER let_go_ends AFTER DELETE ON let_go BEGIN
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = OLD.prospect_id AND state = 'active';
END;
CREATE TRIGGER let_go_on AFTER INSERT ON let_go BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE prospect_id = NEW.prospect_id AND state = 'active';
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = NEW.prospect_id AND state = 'active';
END;

CREATE TABLE list_columns (
  list_id INTEGER NOT NULL REFERENCES lists (id) ON DELETE CASCADE,
  column_id INTEGER NOT NULL REFERENCES columns (id) ON DELETE CASCADE,
  PRIMARY KEY (list_id, column_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX list_columns_by_column ON list_columns (column_id);

CREATE TABLE list_prospects (
  list_id INTEGER NOT NULL REFERENCES lists (id) ON DELETE CASCADE,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE, import_id INTEGER REFERENCES imports (id),
  PRIMARY KEY (list_id, prospect_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX list_prospects_by_prospect ON list_prospects (prospect_id);
CREATE TRIGGER happening_of_listing AFTER INSERT ON list_prospects
  WHEN EXISTS (SELECT 1 FROM listeners WHERE kind = 'list.added') BEGIN
  INSERT INTO happenings (kind, at, prospect_id, detail)
  VALUES ('list.added',
    coalesce((SELECT base + iif(started_wall IS NULL, 0, CAST(unixepoch('subsec') * 1000 AS INTEGER) - started_wall) FROM demo_clock),
      CAST(unixepoch('subsec') * 1000 AS INTEGER)),
    NEW.prospect_id, NEW.list_id);
END;
CREATE TRIGGER list_left AFTER DELETE ON list_prospects BEGIN
  UPDATE address_revision SET number = number + 1;
END;

CREATE TABLE listeners (kind TEXT PRIMARY KEY) STRICT, WITHOUT ROWID;

CREATE TABLE "lists" (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  name TEXT NOT NULL UNIQUE,
  profile_id INTEGER REFERENCES profiles (id) ON DELETE SET NULL,
  created_at INTEGER NOT NULL
, owner_id INTEGER REFERENCES users (id), sharing TEXT NOT NULL DEFAULT 'use' CHECK (sharing IN ('mine', 'use', 'change'))) STRICT;

CREATE TABLE load_tallies (
  touch_id INTEGER NOT NULL REFERENCES touches (id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('opened', 'clicked')),
  loads INTEGER NOT NULL,
  PRIMARY KEY (touch_id, kind)
) STRICT, WITHOUT ROWID;

CREATE TABLE loads (
  id INTEGER PRIMARY KEY,
  touch_id INTEGER NOT NULL REFERENCES touches (id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('opened', 'clicked')),
  at INTEGER NOT NULL,
  agent TEXT NOT NULL,
  network TEXT NOT NULL,
  url TEXT,
  is_head INTEGER NOT NULL CHECK (is_head IN (0, 1)),
  is_own INTEGER NOT NULL CHECK (is_own IN (0, 1)),
  trust TEXT CHECK (trust IN ('person', 'own', 'proxy', 'scanner', 'forward')),
  because TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX loads_of_touch ON loads (touch_id, at);
CREATE INDEX loads_to_judge ON loads (at) WHERE trust IS NULL;

CREATE TABLE looks (
  id INTEGER PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  path TEXT NOT NULL,
  query TEXT NOT NULL,
  at INTEGER NOT NULL,
  UNIQUE (user_id, name)
) STRICT;

CREATE TABLE mail_hosts (domain TEXT PRIMARY KEY, provider TEXT NOT NULL, at INTEGER NOT NULL) STRICT, WITHOUT ROWID;

CREATE TABLE mailboxes (
  id INTEGER PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id),
  address TEXT NOT NULL UNIQUE,
  sender_name TEXT NOT NULL,
  signature TEXT NOT NULL DEFAULT '',
  smtp_host TEXT NOT NULL,
  smtp_port INTEGER NOT NULL,
  smtp_security TEXT NOT NULL CHECK (smtp_security IN ('tls', 'starttls', 'none')),
  imap_host TEXT NOT NULL,
  imap_port INTEGER NOT NULL,
  imap_security TEXT NOT NULL CHECK (imap_security IN ('tls', 'starttls', 'none')),
  username TEXT NOT NULL,
  -- AES-256-GCM, see server/secrets.ts.
  password_sealed TEXT NOT NULL,
  daily_limit INTEGER NOT NULL CHECK (daily_limit BETWEEN 1 AND 500),
  gap_least INTEGER NOT NULL CHECK (gap_least BETWEEN 0 AND 240),
  gap_most INTEGER NOT NULL CHECK (gap_most >= gap_least AND gap_most <= 240),
  state TEXT NOT NULL DEFAULT 'active' CHECK (state IN ('active', 'paused', 'resting')),
  rest_reason TEXT,
  rest_until INTEGER,
  -- Why its inbox could not be read when last tried; null while it can.
  trouble TEXT,
  -- The same for sending, and when it is tried again.
  smtp_trouble TEXT,
  smtp_retry_at INTEGER,
  -- How far its inbox has been read (RFC 9051 2.3.1.1).
  created_at INTEGER NOT NULL
, imap_username TEXT NOT NULL DEFAULT '', certificate TEXT NOT NULL DEFAULT '', auth TEXT NOT NULL DEFAULT 'password' CHECK (auth IN ('password', 'token')), token_url TEXT NOT NULL DEFAULT '', client_id TEXT NOT NULL DEFAULT '', client_secret_sealed TEXT NOT NULL DEFAULT '', more_folders TEXT NOT NULL DEFAULT '[]', copies TEXT NOT NULL DEFAULT 'unknown' CHECK (copies IN ('unknown', 'server', 'app', 'none')), revision INTEGER NOT NULL DEFAULT 0, connected_wall INTEGER, read_wall INTEGER, smtp_failures INTEGER NOT NULL DEFAULT 0, smtp_stopped INTEGER NOT NULL DEFAULT 0, reply_to TEXT NOT NULL DEFAULT '', tags TEXT NOT NULL DEFAULT '[]', hourly_limit INTEGER CHECK (hourly_limit BETWEEN 1 AND 500), ramp_start INTEGER CHECK (ramp_start BETWEEN 1 AND 500), ramp_step INTEGER NOT NULL DEFAULT 2 CHECK (ramp_step BETWEEN 1 AND 100), ramp_since INTEGER, hours TEXT, provider TEXT NOT NULL DEFAULT '', counted_from INTEGER, removed_at INTEGER, copy_trouble TEXT, copy_retry_wall INTEGER, copy_to TEXT NOT NULL DEFAULT '') STRICT;
CREATE TRIGGER happening_of_rest AFTER UPDATE OF state ON mailboxes
  WHEN NEW.state = 'resting' AND OLD.state != 'resting' AND EXISTS (SELECT 1 FROM listeners WHERE kind = 'mailbox.rests') BEGIN
  INSERT INTO happenings (kind, at, mailbox_id, detail)
  VALUES ('mailbox.rests',
    coalesce((SELECT base + iif(started_wall IS NULL, 0, CAST(unixepoch('subsec') * 1000 AS INTEGER) - started_wall) FROM demo_clock),
      CAST(unixepoch('subsec') * 1000 AS INTEGER)),
    NEW.id, NEW.rest_reason);
END;

CREATE TABLE "meetings" (
  id INTEGER PRIMARY KEY,
  -- Also the iCalendar UID, and the address of its page.
  token TEXT NOT NULL UNIQUE,
  user_id INTEGER NOT NULL REFERENCES users (id),
  prospect_id INTEGER REFERENCES prospects (id),
  name TEXT NOT NULL,
  email TEXT NOT NULL,
  phone TEXT NOT NULL DEFAULT '',
  place TEXT NOT NULL DEFAULT '',
  starts_at INTEGER NOT NULL,
  ends_at INTEGER NOT NULL,
  visitor_zone TEXT NOT NULL,
  created_at INTEGER NOT NULL,
  cancelled_at INTEGER,
  -- Counts its moves: the SEQUENCE of its calendar entry (RFC 5545 3.8.7.4).
  moves INTEGER NOT NULL DEFAULT 0
, page_id INTEGER REFERENCES booking_pages (id), answers TEXT NOT NULL DEFAULT '[]', attendance TEXT NOT NULL DEFAULT 'open' CHECK (attendance IN ('open', 'accepted', 'declined', 'tentative')), held_at INTEGER, missed_at INTEGER, invited_moves INTEGER NOT NULL DEFAULT -1, reminded_at INTEGER) STRICT;
CREATE INDEX meetings_by_prospect ON meetings (prospect_id);
CREATE INDEX meetings_by_time ON meetings (user_id, starts_at);
CREATE UNIQUE INDEX meetings_once ON meetings (user_id, starts_at) WHERE cancelled_at IS NULL;

CREATE VIRTUAL TABLE message_pieces USING fts5 (body, content='', contentless_delete=1, tokenize='trigram');

CREATE VIRTUAL TABLE message_words USING fts5 (
  subject, body, who, content='', contentless_delete=1, tokenize="unicode61 remove_diacritics 2");

CREATE TABLE notes (
  id INTEGER PRIMARY KEY,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES users (id),
  text TEXT NOT NULL,
  at INTEGER NOT NULL
) STRICT;
CREATE INDEX notes_by_prospect ON notes (prospect_id, at);

CREATE TABLE notice_mark (id INTEGER PRIMARY KEY CHECK (id = 1), event_id INTEGER NOT NULL) STRICT;

CREATE TABLE notices (
  id INTEGER PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  text TEXT NOT NULL,
  -- The page that it leads to.
  path TEXT NOT NULL,
  -- What it is about: the same is not told twice.
  about TEXT NOT NULL,
  at INTEGER NOT NULL,
  -- Shown in the app and by the browser; due by mail at this instant, and mailed.
  in_app INTEGER NOT NULL DEFAULT 1,
  in_browser INTEGER NOT NULL DEFAULT 0,
  seen_at INTEGER,
  mail_at INTEGER,
  mailed_at INTEGER, body TEXT NOT NULL DEFAULT '',
  UNIQUE (user_id, kind, about)
) STRICT;
CREATE INDEX notices_by_user ON notices (user_id, id);
CREATE INDEX notices_to_mail ON notices (mail_at) WHERE mailed_at IS NULL AND mail_at IS NOT NULL;

CREATE TABLE outcome_revisions (sequence_id INTEGER PRIMARY KEY, number INTEGER NOT NULL) STRICT;

CREATE TABLE outcomes_due (journey_id INTEGER PRIMARY KEY) STRICT;

CREATE TABLE own_texts (
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  step_id TEXT NOT NULL,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE,
  subject TEXT NOT NULL,
  body TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL,
  PRIMARY KEY (sequence_id, step_id, prospect_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE page_loads (
  id INTEGER PRIMARY KEY,
  page_id INTEGER NOT NULL REFERENCES pages (id) ON DELETE CASCADE,
  at INTEGER NOT NULL,
  agent TEXT NOT NULL,
  network TEXT NOT NULL,
  is_head INTEGER NOT NULL CHECK (is_head IN (0, 1)),
  is_own INTEGER NOT NULL CHECK (is_own IN (0, 1)),
  trust TEXT,
  because TEXT
) STRICT;
CREATE INDEX page_loads_of_page ON page_loads (page_id, at);
CREATE INDEX page_loads_to_judge ON page_loads (at) WHERE trust IS NULL;

CREATE TABLE page_templates (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  -- As JSON (core/pages/template.ts).
  definition TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  sharing TEXT NOT NULL DEFAULT 'use' CHECK (sharing IN ('mine', 'use', 'change')),
  changed_at INTEGER NOT NULL,
  removed_at INTEGER
, revision INTEGER NOT NULL DEFAULT 1) STRICT;

CREATE TABLE pages (
  id INTEGER PRIMARY KEY,
  template_id INTEGER NOT NULL REFERENCES page_templates (id),
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  made_at INTEGER NOT NULL,
  -- Null until they have its link.
  ends_at INTEGER,
  -- The moving picture: its file's name, what it was made of ("" where that is another by now), and why there is none.
  picture TEXT,
  picture_of TEXT NOT NULL DEFAULT '',
  picture_problem TEXT,
  -- How much of the film they have seen, in hundredths.
  watched INTEGER NOT NULL DEFAULT 0,
  UNIQUE (template_id, prospect_id)
) STRICT;
CREATE INDEX pages_by_prospect ON pages (prospect_id);
CREATE INDEX pages_to_draw ON pages (template_id) WHERE picture_of = '' AND picture_problem IS NULL;

CREATE TABLE password_links (
  token_hash TEXT PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  expires_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE pauses (
  id INTEGER PRIMARY KEY,
  of TEXT NOT NULL CHECK (of IN ('sequence', 'mailbox', 'account', 'journey')),
  of_id INTEGER NOT NULL,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL,
  ended_at INTEGER,
  ended_by INTEGER REFERENCES users (id)
) STRICT;
CREATE INDEX pauses_of ON pauses (of, of_id);
CREATE UNIQUE INDEX pauses_on ON pauses (of, of_id) WHERE ended_at IS NULL;
CREATE TRIGGER reconsider_resumed AFTER UPDATE OF ended_at ON pauses WHEN NEW.ended_at IS NOT NULL BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE state = 'active' AND (
    (NEW.of = 'journey' AND id = NEW.of_id) OR (NEW.of = 'sequence' AND sequence_id = NEW.of_id)
    OR (NEW.of = 'mailbox' AND mailbox_id = NEW.of_id)
    OR (NEW.of = 'account' AND sequence_id IN (SELECT id FROM sequences WHERE json_extract(settings, '$.accountId') = NEW.of_id)));
END;

CREATE TABLE pictures (
  name TEXT PRIMARY KEY,
  type TEXT NOT NULL,
  bytes BLOB NOT NULL,
  at INTEGER NOT NULL
) STRICT;

CREATE TABLE pieces (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  body TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL
, sharing TEXT NOT NULL DEFAULT 'use' CHECK (sharing IN ('mine', 'use', 'change'))) STRICT;

CREATE TABLE plan_revision (number INTEGER NOT NULL) STRICT;

CREATE TABLE pool_mailboxes (
  pool_id INTEGER NOT NULL REFERENCES pools (id) ON DELETE CASCADE,
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  PRIMARY KEY (pool_id, mailbox_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE pools (id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE) STRICT;

CREATE TABLE profiles (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  description TEXT NOT NULL DEFAULT '',
  definition TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  saved_at INTEGER NOT NULL
, sharing TEXT NOT NULL DEFAULT 'use' CHECK (sharing IN ('mine', 'use', 'change'))) STRICT;

CREATE TABLE "prospects" (
  -- A number is never given again, or what remembers somebody who is gone would mean another.
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  -- Null: no address is known.
  email TEXT UNIQUE,
  first_name TEXT NOT NULL DEFAULT '',
  last_name TEXT NOT NULL DEFAULT '',
  company_id INTEGER REFERENCES companies (id),
  -- A copy of the company's name, kept by the trigger below: the page sorts and filters 100,000 rows by it.
  company TEXT NOT NULL DEFAULT '',
  title TEXT NOT NULL DEFAULT '',
  city TEXT NOT NULL DEFAULT '',
  country TEXT NOT NULL DEFAULT '',
  time_zone TEXT,
  -- E.164.
  phone TEXT NOT NULL DEFAULT '',
  profile TEXT NOT NULL DEFAULT '',
  -- Name, company and address in lines, folded (core/fold.ts): what a search looks at. Kept by a trigger.
  found_by TEXT NOT NULL DEFAULT '',
  stage TEXT NOT NULL DEFAULT 'new'
    CHECK (stage IN ('new', 'contacted', 'in_conversation', 'meeting_booked', 'won', 'lost')),
  owner_id INTEGER REFERENCES users (id),
  custom TEXT NOT NULL DEFAULT '{}',
  verdict TEXT CHECK (verdict IN ('good', 'risky', 'bad', 'unknown')),
  verdict_reason TEXT,
  verdict_detail TEXT NOT NULL DEFAULT '',
  verdict_at INTEGER,
  -- Where they came from; origin_id is the import's, search's or list's.
  origin TEXT NOT NULL DEFAULT 'import' CHECK (origin IN ('import', 'directory', 'typed', 'form')),
  origin_id INTEGER,
  merged_into INTEGER REFERENCES prospects (id),
  erased_at INTEGER,
  -- 1 while neither merged nor erased: what every page shows.
  live INTEGER NOT NULL GENERATED ALWAYS AS (merged_into IS NULL AND erased_at IS NULL) STORED,
  created_at INTEGER NOT NULL
, language TEXT NOT NULL DEFAULT '', unread TEXT NOT NULL DEFAULT '{}') STRICT;
CREATE INDEX prospects_by_company ON prospects (company, id) WHERE live = 1;
CREATE INDEX prospects_by_domain ON prospects (substr(email, instr(email, '@') + 1));
CREATE INDEX prospects_by_name ON prospects (last_name, first_name, id) WHERE live = 1;
CREATE INDEX prospects_by_stage ON prospects (stage, id) WHERE live = 1;
CREATE INDEX prospects_by_verdict ON prospects (verdict, id) WHERE live = 1;
CREATE INDEX prospects_merged ON prospects (merged_into) WHERE merged_into IS NOT NULL;
CREATE INDEX prospects_of_company ON prospects (company_id);
CREATE INDEX prospects_of_form ON prospects (origin_id) WHERE origin = 'form';
CREATE INDEX prospects_states ON prospects (id, verdict, verdict_reason, email IS NULL);
CREATE TRIGGER addresses_changed AFTER UPDATE OF email, verdict ON prospects BEGIN
  UPDATE address_revision SET number = number + 1;
END;
CREATE TRIGGER column_values_of_mover AFTER UPDATE OF company_id ON prospects
  WHEN NEW.company_id IS NOT OLD.company_id
    AND EXISTS (SELECT 1 FROM column_values WHERE company_id IN (OLD.company_id, NEW.company_id)) BEGIN
  UPDATE prospects SET
    custom = json_patch(custom, (SELECT json_group_object(v.code, NULL) FROM column_values v
      WHERE v.company_id = OLD.company_id AND v.value != '' AND custom ->> ('$.' || v.code) = v.value)),
    unread = json_patch(unread, (SELECT json_group_object(v.code, NULL) FROM column_values v WHERE v.company_id = OLD.company_id))
  WHERE id = NEW.id;
  UPDATE prospects SET
    custom = json_patch(custom, (SELECT json_group_object(v.code, v.value) FROM column_values v
      WHERE v.company_id = NEW.company_id AND v.value != '' AND coalesce(custom ->> ('$.' || v.code), '') = '')),
    unread = json_patch(unread, (SELECT json_group_object(v.code, v.value) FROM column_values v
      WHERE v.company_id = NEW.company_id AND v.value != '' AND v.read_at IS NULL))
  WHERE id = NEW.id AND NEW.company_id IS NOT NULL AND live = 1;
END;
CREATE TRIGGER column_values_of_newcomer AFTER INSERT ON prospects
  WHEN NEW.company_id IS NOT NULL AND EXISTS (SELECT 1 FROM column_values WHERE company_id = NEW.company_id) BEGIN
  UPDATE prospects SET
    custom = json_patch(custom, (SELECT json_group_object(v.code, v.value) FROM column_values v
      WHERE v.company_id = NEW.company_id AND v.value != '' AND coalesce(NEW.custom ->> ('$.' || v.code), '') = '')),
    unread = (SELECT json_group_object(v.code, v.value) FROM column_values v
      WHERE v.company_id = NEW.company_id AND v.value != '' AND v.read_at IS NULL)
  WHERE id = NEW.id;
END;
CREATE TRIGGER happening_of_arrival AFTER INSERT ON prospects
  WHEN EXISTS (SELECT 1 FROM listeners WHERE kind = 'prospect.added') BEGIN
  INSERT INTO happenings (kind, at, prospect_id, user_id, detail)
  VALUES ('prospect.added', NEW.created_at, NEW.id, NEW.owner_id, NEW.origin);
END;
CREATE TRIGGER happening_of_owner AFTER UPDATE OF owner_id ON prospects
  WHEN NEW.owner_id IS NOT OLD.owner_id AND EXISTS (SELECT 1 FROM listeners WHERE kind = 'prospect.owner_changed') BEGIN
  INSERT INTO happenings (kind, at, prospect_id)
  VALUES ('prospect.owner_changed',
    coalesce((SELECT base + iif(started_wall IS NULL, 0, CAST(unixepoch('subsec') * 1000 AS INTEGER) - started_wall) FROM demo_clock),
      CAST(unixepoch('subsec') * 1000 AS INTEGER)),
    NEW.id);
END;
CREATE TRIGGER happening_of_stage AFTER UPDATE OF stage ON prospects
  WHEN NEW.stage IS NOT OLD.stage AND EXISTS (SELECT 1 FROM listeners WHERE kind = 'prospect.stage_changed') BEGIN
  INSERT INTO happenings (kind, at, prospect_id, detail)
  VALUES ('prospect.stage_changed',
    coalesce((SELECT base + iif(started_wall IS NULL, 0, CAST(unixepoch('subsec') * 1000 AS INTEGER) - started_wall) FROM demo_clock),
      CAST(unixepoch('subsec') * 1000 AS INTEGER)),
    NEW.id, json_object('from', OLD.stage, 'to', NEW.stage));
END;
CREATE TRIGGER outcomes_of_person AFTER UPDATE OF country, stage ON prospects
  WHEN NEW.country IS NOT OLD.country OR NEW.stage IS NOT OLD.stage BEGIN
  INSERT OR IGNORE INTO outcomes_due SELECT id FROM journeys WHERE prospect_id = NEW.id;
END;
CREATE TRIGGER people_hidden AFTER UPDATE OF merged_into, erased_at ON prospects BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'duplicates';
END;
CREATE TRIGGER prospects_renamed AFTER UPDATE OF first_name, last_name, company, email ON prospects BEGIN
  UPDATE prospects SET found_by =
    fold(first_name || ' ' || last_name || char(10) || company || char(10) || coalesce(email, '')) WHERE id = NEW.id;
END;
CREATE TRIGGER reconsider_people
  AFTER UPDATE OF email, first_name, last_name, company, title, city, country, phone, profile, custom, unread, language, time_zone ON prospects
  BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE prospect_id = NEW.id AND state = 'active';
END;
CREATE TRIGGER replan_people
  AFTER UPDATE OF email, verdict, time_zone, country, profile, company_id, company, first_name, last_name, title, city, phone, custom, unread ON prospects
  BEGIN
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = NEW.id AND state = 'active';
END;

CREATE TABLE reconsider (journey_id INTEGER PRIMARY KEY) STRICT;

CREATE TABLE recoveries (
  id INTEGER PRIMARY KEY,
  reason TEXT NOT NULL CHECK (reason IN ('restored', 'lost', 'clock')),
  -- Between these nobody knows what was done.
  since INTEGER NOT NULL,
  until INTEGER NOT NULL,
  -- Emails that the Sent folders told of; people who wait for a person's word; other mail that is not sent again.
  found INTEGER NOT NULL DEFAULT 0,
  held INTEGER NOT NULL DEFAULT 0,
  dropped INTEGER NOT NULL DEFAULT 0,
  ended_at INTEGER,
  -- When somebody has seen what came of it.
  closed_at INTEGER
) STRICT;

CREATE TABLE recovery_reads (
  recovery_id INTEGER NOT NULL REFERENCES recoveries (id) ON DELETE CASCADE,
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id) ON DELETE CASCADE,
  at INTEGER NOT NULL,
  PRIMARY KEY (recovery_id, mailbox_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE refusals (
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id) ON DELETE CASCADE,
  recipient TEXT NOT NULL,
  at INTEGER NOT NULL,
  words TEXT NOT NULL,
  PRIMARY KEY (mailbox_id, recipient)
) STRICT, WITHOUT ROWID;

CREATE TABLE reminders (
  id INTEGER PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id),
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE,
  reply_id INTEGER REFERENCES replies (id) ON DELETE SET NULL,
  -- 'errand': for the seller too; 'come_back': they asked to be asked again; 'next_step': nothing else is planned.
  kind TEXT NOT NULL CHECK (kind IN ('reminder', 'errand', 'come_back', 'next_step', 'thanks')),
  text TEXT NOT NULL,
  due_at INTEGER NOT NULL,
  at INTEGER NOT NULL,
  ended_at INTEGER,
  how TEXT CHECK (how IN ('done', 'skipped'))
) STRICT;
CREATE INDEX reminders_by_prospect ON reminders (prospect_id);
CREATE INDEX reminders_open ON reminders (user_id, due_at) WHERE ended_at IS NULL;

CREATE TABLE replan (journey_id INTEGER PRIMARY KEY) STRICT;

CREATE TABLE "replies" (
  id INTEGER PRIMARY KEY,
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  message_id TEXT NOT NULL,
  prospect_id INTEGER REFERENCES prospects (id),
  touch_id INTEGER REFERENCES touches (id),
  -- 'challenge': a server asks that a person confirms the sender.
  kind TEXT NOT NULL CHECK (kind IN ('person', 'automatic', 'left', 'bounce', 'delay', 'complaint', 'receipt', 'challenge', 'notice')),
  -- 'likely': no id says so; the journey waits until the rep has said whether it is an answer. 'denied': it is none.
  certainty TEXT NOT NULL DEFAULT 'sure' CHECK (certainty IN ('sure', 'likely', 'denied')),
  from_address TEXT NOT NULL,
  from_name TEXT NOT NULL,
  answer_to TEXT NOT NULL DEFAULT '',
  subject TEXT NOT NULL,
  -- What they wrote, and the quoted rest.
  text TEXT NOT NULL,
  quoted TEXT NOT NULL DEFAULT '',
  -- Names of what was attached, as a JSON array.
  attached TEXT NOT NULL DEFAULT '[]',
  detail TEXT,
  thread_references TEXT NOT NULL DEFAULT '',
  at INTEGER NOT NULL,
  read_at INTEGER,
  -- core/replies/sort.ts, Reading, as JSON; null where nothing was read.
  reading TEXT,
  label_id INTEGER REFERENCES labels (id),
  labelled_at INTEGER,
  -- Null where the tool set it by itself.
  labelled_by INTEGER REFERENCES users (id),
  -- When it was answered, or handed on: nothing waits for the rep any more.
  answered_at INTEGER,
  UNIQUE (mailbox_id, message_id)
) STRICT;
CREATE INDEX replies_by_kind ON replies (kind, at, certainty, prospect_id);
CREATE INDEX replies_by_labeller ON replies (labelled_by, labelled_at) WHERE labelled_by IS NOT NULL;
CREATE INDEX replies_by_prospect ON replies (prospect_id, at);
CREATE INDEX replies_labelled ON replies (label_id, at) WHERE label_id IS NOT NULL;
CREATE INDEX replies_likely ON replies (prospect_id) WHERE certainty = 'likely';
CREATE INDEX replies_unread ON replies (at) WHERE read_at IS NULL;
CREATE TRIGGER outcome_of_gone_reply AFTER DELETE ON replies WHEN OLD.label_id IS NOT NULL BEGIN
  INSERT OR IGNORE INTO outcomes_due
    SELECT journey_id FROM events WHERE prospect_id = OLD.prospect_id AND kind = 'replied' AND journey_id IS NOT NULL;
END;
CREATE TRIGGER outcome_of_label AFTER UPDATE OF label_id ON replies WHEN NEW.label_id IS NOT OLD.label_id BEGIN
  INSERT OR IGNORE INTO outcomes_due
    SELECT journey_id FROM events WHERE prospect_id = NEW.prospect_id AND kind = 'replied' AND journey_id IS NOT NULL;
END;
CREATE TRIGGER reply_came AFTER INSERT ON replies BEGIN
  UPDATE reply_revision SET number = number + 1;
END;
CREATE TRIGGER reply_changed AFTER UPDATE OF label_id, read_at, certainty ON replies
  WHEN (NEW.label_id, NEW.read_at, NEW.certainty) IS NOT (OLD.label_id, OLD.read_at, OLD.certainty) BEGIN
  UPDATE reply_revision SET number = number + 1;
END;
CREATE TRIGGER reply_gone AFTER DELETE ON replies BEGIN
  UPDATE reply_revision SET number = number + 1;
END;
CREATE TRIGGER words_of_reply AFTER INSERT ON replies BEGIN
  INSERT INTO message_words (rowid, subject, body, who) VALUES (2 * NEW.id, NEW.subject, NEW.text, NEW.from_name || ' ' || NEW.from_address);
  INSERT INTO message_pieces (rowid, body) SELECT 2 * NEW.id, NEW.subject || ' ' || NEW.text
    WHERE NEW.subject || NEW.text GLOB '*[฀-๿぀-ヿ㐀-鿿가-힣]*';
END;
CREATE TRIGGER words_of_reply_change AFTER UPDATE OF subject, text, from_name, from_address ON replies
  WHEN NEW.subject IS NOT OLD.subject OR NEW.text IS NOT OLD.text OR NEW.from_name IS NOT OLD.from_name OR NEW.from_address IS NOT OLD.from_address BEGIN
  DELETE FROM message_words WHERE rowid = 2 * OLD.id;
  DELETE FROM message_pieces WHERE rowid = 2 * OLD.id;
  INSERT INTO message_words (rowid, subject, body, who) VALUES (2 * NEW.id, NEW.subject, NEW.text, NEW.from_name || ' ' || NEW.from_address);
  INSERT INTO message_pieces (rowid, body) SELECT 2 * NEW.id, NEW.subject || ' ' || NEW.text
    WHERE NEW.subject || NEW.text GLOB '*[฀-๿぀-ヿ㐀-鿿가-힣]*';
END;
CREATE TRIGGER words_of_reply_gone AFTER DELETE ON replies BEGIN
  DELETE FROM message_words WHERE rowid = 2 * OLD.id;
  DELETE FROM message_pieces WHERE rowid = 2 * OLD.id;
END;

CREATE TABLE reply_models (
  id INTEGER PRIMARY KEY,
  -- core/replies/model-file.ts
  model TEXT NOT NULL,
  corrections INTEGER NOT NULL,
  -- What it would read otherwise, as JSON, for the rep to see before it is used.
  changes TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('proposed', 'used', 'dropped')),
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL
) STRICT;

CREATE TABLE reply_revision (number INTEGER NOT NULL) STRICT;

CREATE TABLE revisions (name TEXT PRIMARY KEY, number INTEGER NOT NULL) STRICT, WITHOUT ROWID;

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

CREATE TABLE searches (
  id INTEGER PRIMARY KEY,
  profile_id INTEGER REFERENCES profiles (id) ON DELETE SET NULL,
  profile_name TEXT NOT NULL,
  -- The profile as it was.
  definition TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  job_id INTEGER REFERENCES jobs (id),
  -- The directory's next page; null once all are read.
  next_page INTEGER DEFAULT 1,
  at INTEGER NOT NULL
) STRICT;

CREATE TABLE seen_folders (
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id) ON DELETE CASCADE,
  path TEXT NOT NULL,
  is_first INTEGER NOT NULL CHECK (is_first IN (0, 1)),
  PRIMARY KEY (mailbox_id, path)
) STRICT, WITHOUT ROWID;

CREATE TABLE sequence_mailboxes (
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  PRIMARY KEY (sequence_id, mailbox_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE "sequence_versions" (
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  -- core/sequence/path.ts
  path TEXT NOT NULL,
  saved_by INTEGER REFERENCES users (id),
  saved_at INTEGER NOT NULL,
  PRIMARY KEY (sequence_id, number)
) STRICT, WITHOUT ROWID;

CREATE TABLE sequences (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  user_id INTEGER NOT NULL REFERENCES users (id),
  list_id INTEGER REFERENCES lists (id),
  time_zone TEXT NOT NULL,
  -- ISO weekdays as a JSON array, local times "HH:mm".
  days TEXT NOT NULL DEFAULT '[1,2,3,4,5]',
  opens TEXT NOT NULL DEFAULT '08:30',
  closes TEXT NOT NULL DEFAULT '17:00',
  state TEXT NOT NULL DEFAULT 'draft' CHECK (state IN ('draft', 'running', 'paused')),
  created_at INTEGER NOT NULL
, settings TEXT NOT NULL DEFAULT '{}', kind TEXT NOT NULL DEFAULT 'shared' CHECK (kind IN ('shared', 'single')), is_personal INTEGER NOT NULL DEFAULT 0 CHECK (is_personal IN (0, 1)), archived_at INTEGER, deleted_at INTEGER, revision INTEGER NOT NULL DEFAULT 1, pool_id INTEGER REFERENCES pools (id), writes_to TEXT NOT NULL DEFAULT 'likely' CHECK (writes_to IN ('good', 'likely', 'doubtful', 'any')), begun_from TEXT) STRICT;

CREATE TABLE service_mails (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('invitation', 'meeting_reminder', 'notice', 'hand_over')),
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  recipient TEXT NOT NULL,
  recipient_name TEXT NOT NULL DEFAULT '',
  subject TEXT NOT NULL,
  body TEXT NOT NULL,
  -- An iCalendar object with its method (RFC 6047), or "".
  calendar TEXT NOT NULL DEFAULT '',
  method TEXT NOT NULL DEFAULT '',
  meeting_id INTEGER REFERENCES meetings (id),
  prospect_id INTEGER REFERENCES prospects (id),
  message_id TEXT NOT NULL UNIQUE,
  due_at INTEGER NOT NULL,
  state TEXT NOT NULL DEFAULT 'queued' CHECK (state IN ('queued', 'claimed', 'sent', 'refused', 'dropped')),
  sent_at INTEGER,
  trouble TEXT
) STRICT;
CREATE INDEX service_mails_due ON service_mails (mailbox_id, due_at) WHERE state = 'queued';

CREATE TABLE sessions (
  id INTEGER PRIMARY KEY,
  -- SHA-256 of the cookie's token: a stolen database opens no session.
  token_hash TEXT NOT NULL UNIQUE,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  agent TEXT NOT NULL DEFAULT '',
  created_at INTEGER NOT NULL,
  seen_at INTEGER NOT NULL,
  expires_at INTEGER NOT NULL
) STRICT;
CREATE INDEX sessions_by_user ON sessions (user_id);

CREATE TABLE set_aside (
  id INTEGER PRIMARY KEY,
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id) ON DELETE CASCADE,
  path TEXT NOT NULL,
  uid INTEGER NOT NULL,
  from_address TEXT NOT NULL,
  subject TEXT NOT NULL,
  reason TEXT NOT NULL,
  at INTEGER NOT NULL
) STRICT;

CREATE TABLE settings (name TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT, WITHOUT ROWID;

CREATE TABLE shelf (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  about TEXT NOT NULL DEFAULT '',
  path TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL
, sequence_id INTEGER REFERENCES sequences (id) ON DELETE SET NULL) STRICT;

CREATE TABLE sign_in_tries (email TEXT NOT NULL, caller TEXT NOT NULL, at INTEGER NOT NULL) STRICT;
CREATE INDEX sign_in_tries_by_caller ON sign_in_tries (caller, at);
CREATE INDEX sign_in_tries_by_email ON sign_in_tries (email, caller, at);

CREATE TABLE sites (
  domain TEXT PRIMARY KEY,
  state TEXT NOT NULL CHECK (state IN ('read', 'failed')),
  problem TEXT,
  -- As JSON (core/research/site.ts); '{}' where nothing was read.
  reading TEXT NOT NULL DEFAULT '{}',
  at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE social_accounts (
  id INTEGER PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id),
  name TEXT NOT NULL,
  -- Where the network's API answers, and the sealed token with which it does.
  url TEXT NOT NULL,
  token_sealed TEXT NOT NULL,
  state TEXT NOT NULL DEFAULT 'active' CHECK (state IN ('active', 'paused', 'signed_out')),
  trouble TEXT,
  retry_at INTEGER,
  daily_limit INTEGER NOT NULL DEFAULT 40 CHECK (daily_limit BETWEEN 1 AND 500),
  -- Within any seven days.
  weekly_views INTEGER NOT NULL DEFAULT 200 CHECK (weekly_views BETWEEN 0 AND 2000),
  weekly_invitations INTEGER NOT NULL DEFAULT 80 CHECK (weekly_invitations BETWEEN 0 AND 2000),
  weekly_messages INTEGER NOT NULL DEFAULT 150 CHECK (weekly_messages BETWEEN 0 AND 2000),
  gap_least INTEGER NOT NULL DEFAULT 4 CHECK (gap_least BETWEEN 0 AND 240),
  gap_most INTEGER NOT NULL DEFAULT 11 CHECK (gap_most >= gap_least AND gap_most <= 240),
  -- Up to where the network's news have been read.
  news_mark INTEGER NOT NULL DEFAULT 0,
  created_at INTEGER NOT NULL
) STRICT;

CREATE TABLE targets (
  user_id INTEGER UNIQUE REFERENCES users (id) ON DELETE CASCADE,
  calls_a_week INTEGER NOT NULL CHECK (calls_a_week BETWEEN 1 AND 1000),
  set_by INTEGER REFERENCES users (id) ON DELETE SET NULL,
  at INTEGER NOT NULL
) STRICT;
CREATE UNIQUE INDEX target_of_team ON targets (user_id IS NULL) WHERE user_id IS NULL;

CREATE TABLE touch_outcomes (
  sequence_id INTEGER NOT NULL,
  journey_id INTEGER NOT NULL,
  touch_id INTEGER NOT NULL,
  step_id TEXT NOT NULL,
  version INTEGER,
  variant_id TEXT,
  kind TEXT NOT NULL,
  mailbox_id INTEGER,
  -- Instants in ms: when it was made, when it got through, came back, was answered, and was opened and
  -- clicked as far as loads can be trusted.
  at INTEGER NOT NULL,
  reached_at INTEGER,
  bounced_at INTEGER,
  answered_at INTEGER,
  positive_at INTEGER,
  opened_at INTEGER,
  clicked_at INTEGER,
  PRIMARY KEY (sequence_id, journey_id, touch_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX touch_outcomes_by_sender ON touch_outcomes (mailbox_id, at, step_id, reached_at, bounced_at, answered_at) WHERE mailbox_id IS NOT NULL;

CREATE VIEW touch_outcomes_now AS
SELECT j.sequence_id, t.journey_id, t.id AS touch_id, t.step_id, t.version, t.variant_id, t.kind, t.mailbox_id,
  coalesce(t.sent_at, t.ended_at, t.at, 0) AS at,
  CASE WHEN t.kind IN ('profile_view', 'errand') OR t.state = 'refused' THEN NULL
    WHEN t.kind = 'call' THEN CASE WHEN t.outcome IN ('reached', 'voicemail') THEN coalesce(t.ended_at, t.at, 0) END
    WHEN EXISTS (SELECT 1 FROM events e WHERE e.touch_id = t.id AND e.kind = 'bounced') THEN NULL
    ELSE coalesce(t.sent_at, t.ended_at, t.at, 0) END AS reached_at,
  CASE WHEN t.state = 'refused' THEN coalesce(t.ended_at, t.at, 0)
    ELSE (SELECT min(e.at) FROM events e WHERE e.touch_id = t.id AND e.kind = 'bounced') END AS bounced_at,
  CASE WHEN t.kind = 'call' AND t.outcome = 'reached' THEN coalesce(t.ended_at, t.at, 0)
    ELSE (SELECT min(e.at) FROM events e WHERE e.touch_id = t.id AND e.kind = 'replied') END AS answered_at,
  (SELECT min(r.at) FROM events e JOIN replies r ON r.id = e.reply_id JOIN labels l ON l.id = r.label_id AND l.is_positive = 1
    WHERE e.touch_id = t.id AND e.kind = 'replied') AS positive_at,
  (SELECT min(e.at) FROM events e WHERE e.touch_id = t.id AND e.kind = 'opened') AS opened_at,
  (SELECT min(e.at) FROM events e WHERE e.touch_id = t.id AND e.kind = 'clicked') AS clicked_at
FROM touches t JOIN journeys j ON j.id = t.journey_id
WHERE t.state IN ('sent', 'done', 'refused');

CREATE TABLE "touches" (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN (
    'email', 'approved_email', 'profile_view', 'invitation', 'social_message', 'call', 'errand', 'answer', 'test')),
  journey_id INTEGER REFERENCES journeys (id),
  step_id TEXT,
  version INTEGER,
  variant_id TEXT,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  -- Whose touch it is, if a person makes or approves it.
  user_id INTEGER REFERENCES users (id),
  mailbox_id INTEGER REFERENCES mailboxes (id),
  recipient TEXT NOT NULL DEFAULT '',
  state TEXT NOT NULL CHECK (state IN (
    'draft', 'approved', 'open', 'queued', 'claimed', 'sent', 'done', 'skipped', 'refused')),
  -- When it came up, when it is due, and when it was sent, done, skipped or refused.
  at INTEGER,
  due_at INTEGER,
  ended_at INTEGER,
  -- How a call went, and what the rep noted.
  outcome TEXT,
  note TEXT NOT NULL DEFAULT '',
  message_id TEXT UNIQUE,
  in_reply_to TEXT,
  thread_references TEXT NOT NULL DEFAULT '',
  subject TEXT NOT NULL DEFAULT '',
  -- An email's text, or what a task says.
  body TEXT NOT NULL DEFAULT '',
  -- The body as Markdown in which merged values are protected; null where the body itself is what was typed.
  markup TEXT,
  format TEXT NOT NULL DEFAULT 'formatted' CHECK (format IN ('formatted', 'plain')),
  -- Addresses with commas between, and ids of files (JSON).
  cc TEXT NOT NULL DEFAULT '',
  bcc TEXT NOT NULL DEFAULT '',
  attachments TEXT NOT NULL DEFAULT '[]',
  claimed_at INTEGER,
  -- The machine's own clock at the claim: SMTP's patience is real time, also in the demo.
  claimed_wall INTEGER,
  sent_at INTEGER,
  refused_words TEXT,
  -- Nobody can tell whether it left: the rep decides (server/sending/undecided.ts).
  undecided_at INTEGER,
  -- What the server said when it took the email, its queue's number among it.
  server_answer TEXT,
  -- 1 until a copy lies in the Sent folder, or it is known that the server puts it there.
  copy_due INTEGER NOT NULL DEFAULT 0, account_id INTEGER REFERENCES social_accounts (id), unless_reply INTEGER NOT NULL DEFAULT 0 CHECK (unless_reply IN (0, 1)),
  UNIQUE (journey_id, step_id),
  CHECK ((kind IN ('answer', 'test')) = (journey_id IS NULL)),
  CHECK ((journey_id IS NULL) = (step_id IS NULL)),
  CHECK (state NOT IN ('queued', 'claimed', 'sent') OR (message_id IS NOT NULL AND mailbox_id IS NOT NULL))
) STRICT;
CREATE INDEX touches_by_account ON touches (account_id, ended_at) WHERE account_id IS NOT NULL;
CREATE INDEX touches_by_mailbox ON touches (mailbox_id, sent_at);
CREATE INDEX touches_by_prospect ON touches (prospect_id, sent_at);
CREATE INDEX touches_by_recipient ON touches (recipient);
CREATE INDEX touches_by_time ON touches (sent_at) WHERE sent_at IS NOT NULL;
CREATE INDEX touches_by_user ON touches (user_id, ended_at) WHERE user_id IS NOT NULL;
CREATE INDEX touches_copy_due ON touches (mailbox_id) WHERE copy_due = 1;
CREATE INDEX touches_for_rep ON touches (state, due_at) WHERE state IN ('draft', 'approved', 'open');
CREATE INDEX touches_later ON touches (prospect_id) WHERE state = 'queued';
CREATE INDEX touches_open ON touches (state) WHERE state IN ('queued', 'claimed');
CREATE TRIGGER outcome_of_gone_touch AFTER DELETE ON touches WHEN OLD.journey_id IS NOT NULL AND OLD.state IN ('sent', 'done', 'refused') BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (OLD.journey_id);
END;
CREATE TRIGGER outcome_of_moved_touch AFTER UPDATE OF journey_id ON touches
  WHEN OLD.journey_id IS NOT NULL AND NEW.journey_id IS NOT OLD.journey_id
    AND (OLD.state = 'sent' OR OLD.state = 'done' OR OLD.state = 'refused') BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (OLD.journey_id);
END;
CREATE TRIGGER outcome_of_new_touch AFTER INSERT ON touches
  WHEN NEW.journey_id IS NOT NULL AND (NEW.state = 'sent' OR NEW.state = 'done' OR NEW.state = 'refused') BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.journey_id);
END;
CREATE TRIGGER outcome_of_touch AFTER UPDATE OF state, outcome, sent_at, ended_at, mailbox_id, journey_id ON touches
  WHEN NEW.journey_id IS NOT NULL
    AND (NEW.state = 'sent' OR NEW.state = 'done' OR NEW.state = 'refused' OR OLD.state = 'sent' OR OLD.state = 'done' OR OLD.state = 'refused')
    AND (NEW.state IS NOT OLD.state OR NEW.outcome IS NOT OLD.outcome OR NEW.sent_at IS NOT OLD.sent_at OR NEW.ended_at IS NOT OLD.ended_at
      OR NEW.mailbox_id IS NOT OLD.mailbox_id OR NEW.journey_id IS NOT OLD.journey_id) BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.journey_id);
END;
CREATE TRIGGER reconsider_touches AFTER UPDATE OF state ON touches
  WHEN NEW.journey_id IS NOT NULL AND NEW.state IS NOT OLD.state AND NEW.state NOT IN ('claimed', 'approved') BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE id = NEW.journey_id AND state = 'active';
END;
CREATE TRIGGER replan_touch_changed AFTER UPDATE OF state, undecided_at ON touches
  WHEN NEW.state IS NOT OLD.state OR NEW.undecided_at IS NOT OLD.undecided_at BEGIN
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = NEW.prospect_id AND state = 'active';
END;
CREATE TRIGGER replan_touch_gone AFTER DELETE ON touches BEGIN
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = OLD.prospect_id AND state = 'active';
END;
CREATE TRIGGER replan_touch_made AFTER INSERT ON touches BEGIN
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = NEW.prospect_id AND state = 'active';
END;
CREATE TRIGGER words_of_email AFTER UPDATE OF state ON touches WHEN NEW.state = 'sent' AND OLD.state != 'sent' AND NEW.kind != 'test' BEGIN
  INSERT OR IGNORE INTO words_due VALUES (NEW.id);
END;
CREATE TRIGGER words_of_email_change AFTER UPDATE OF subject, body, recipient ON touches
  WHEN OLD.state = 'sent' AND OLD.kind != 'test' AND (NEW.subject IS NOT OLD.subject OR NEW.body IS NOT OLD.body OR NEW.recipient IS NOT OLD.recipient) BEGIN
  DELETE FROM message_words WHERE rowid = 2 * OLD.id + 1;
  DELETE FROM message_pieces WHERE rowid = 2 * OLD.id + 1;
  INSERT OR IGNORE INTO words_due VALUES (NEW.id);
END;
CREATE TRIGGER words_of_email_gone AFTER DELETE ON touches WHEN OLD.state = 'sent' BEGIN
  DELETE FROM message_words WHERE rowid = 2 * OLD.id + 1;
  DELETE FROM message_pieces WHERE rowid = 2 * OLD.id + 1;
  DELETE FROM words_due WHERE touch_id = OLD.id;
END;

CREATE TABLE undo_records (
  id INTEGER PRIMARY KEY,
  reply_id INTEGER REFERENCES replies (id) ON DELETE CASCADE,
  prospect_id INTEGER REFERENCES prospects (id) ON DELETE CASCADE,
  user_id INTEGER REFERENCES users (id),
  what TEXT NOT NULL,
  changes TEXT NOT NULL,
  at INTEGER NOT NULL,
  undone_at INTEGER
, kind TEXT NOT NULL DEFAULT 'label', about TEXT NOT NULL DEFAULT '[]') STRICT;
CREATE INDEX undo_by_reply ON undo_records (reply_id, id);
CREATE INDEX undo_by_user ON undo_records (user_id, at) WHERE undone_at IS NULL;

CREATE TABLE users (
  id INTEGER PRIMARY KEY,
  email TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL,
  password_hash TEXT NOT NULL,
  time_zone TEXT NOT NULL,
  -- The last part of the public booking page's address.
  booking_slug TEXT NOT NULL UNIQUE,
  created_at INTEGER NOT NULL
, role TEXT NOT NULL DEFAULT 'rep' CHECK (role IN ('rep', 'manager')), settings TEXT NOT NULL DEFAULT '{}', removed_at INTEGER) STRICT;
CREATE TRIGGER first_booking_page AFTER INSERT ON users BEGIN
  INSERT INTO booking_pages (slug, name, user_id, rules, created_at)
    VALUES (NEW.booking_slug, 'Call', NEW.id, NEW.settings, NEW.created_at);
  INSERT INTO booking_hosts (page_id, user_id) SELECT id, user_id FROM booking_pages WHERE slug = NEW.booking_slug;
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

CREATE TABLE wording_shares (
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  step_id TEXT NOT NULL,
  -- "2026-11-30", where the sequence is.
  day TEXT NOT NULL,
  -- JSON: of each wording its weight and what it rests on, [{"id", "weight", "part", "whole"}].
  shares TEXT NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (sequence_id, step_id, day)
) STRICT, WITHOUT ROWID;

CREATE TABLE words_due (touch_id INTEGER PRIMARY KEY) STRICT;
