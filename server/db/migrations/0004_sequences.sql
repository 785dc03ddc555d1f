-- Sequences over several channels: paths with forks, journeys that stand at a place in them, and touches of all kinds.

-- ── Paths: a version's steps become a path of emails with one wording each ──
CREATE TABLE sequence_versions_new (
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  -- core/sequence/path.ts
  path TEXT NOT NULL,
  saved_by INTEGER REFERENCES users (id),
  saved_at INTEGER NOT NULL,
  PRIMARY KEY (sequence_id, number)
) STRICT, WITHOUT ROWID;
INSERT INTO sequence_versions_new (sequence_id, number, path, saved_at)
  SELECT v.sequence_id, v.number, (
    SELECT json_group_array(json_object(
      'id', s.value ->> 'id', 'kind', 'email', 'name', s.value ->> 'name', 'note', '',
      'wait', json_object('days', s.value ->> 'waitDays', 'working', json('true')),
      'variants', json_array(json_object('id', 'a', 'weight', 1, 'subject', s.value ->> 'subject', 'body', s.value ->> 'body')),
      'format', 'formatted', 'quotes', json('false'), 'attachments', json_array()) ORDER BY s.key)
    FROM json_each(v.steps) s), v.saved_at
  FROM sequence_versions v;

-- ── Journeys: where each stands, computed from the steps before they go ──
CREATE TABLE journeys_new (
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
INSERT INTO journeys_new (id, sequence_id, prospect_id, state, version, since, mailbox_id, due_at, next_at,
    next_mailbox_id, wait_reason, wait_detail, stop_reason, stop_detail, ended_at, started_at)
  SELECT id, sequence_id, prospect_id, state,
    coalesce((SELECT max(number) FROM sequence_versions v WHERE v.sequence_id = journeys.sequence_id), 1),
    coalesce((SELECT max(sent_at) FROM touches t WHERE t.journey_id = journeys.id), started_at),
    mailbox_id, due_at, next_at, next_mailbox_id, wait_reason, wait_detail, stop_reason, stop_detail, ended_at, started_at
  FROM journeys;
UPDATE journeys_new SET place_id = (
    SELECT s.value ->> 'id' FROM sequence_versions v, json_each(v.steps) s
    WHERE v.sequence_id = journeys_new.sequence_id AND v.number = journeys_new.version
      AND s.key > coalesce((
        SELECT max(d.key) FROM json_each(v.steps) d JOIN touches t ON t.step_id = d.value ->> 'id'
        WHERE t.journey_id = journeys_new.id AND t.state != 'claimed'), -1)
    ORDER BY s.key LIMIT 1)
  WHERE state != 'finished';
UPDATE journeys_new SET wake_at = 0 WHERE state = 'active' AND place_id IS NULL;
DROP TABLE journeys;
ALTER TABLE journeys_new RENAME TO journeys;
CREATE INDEX journeys_active ON journeys (state, next_at) WHERE state = 'active';
-- Nobody is on two journeys at once: not across sequences, not across teammates.
CREATE UNIQUE INDEX journeys_one_active ON journeys (prospect_id) WHERE state = 'active';
CREATE INDEX journeys_by_prospect ON journeys (prospect_id);
CREATE INDEX journeys_to_wake ON journeys (wake_at) WHERE state = 'active' AND wake_at IS NOT NULL;
CREATE INDEX journeys_of_sequence ON journeys (sequence_id, state, place_id);

DROP TABLE sequence_versions;
ALTER TABLE sequence_versions_new RENAME TO sequence_versions;

-- ── Sequences: settings as JSON (core/sequence/settings.ts); what runs already goes on as it did ──
ALTER TABLE sequences ADD COLUMN settings TEXT NOT NULL DEFAULT '{}';
UPDATE sequences SET settings = json_object(
  'holidays', json('false'), 'holdsCompany', json('false'), 'awayDays', 0,
  'tracksOpens', json(CASE tracks WHEN 1 THEN 'true' ELSE 'false' END),
  'tracksClicks', json(CASE tracks WHEN 1 THEN 'true' ELSE 'false' END));
ALTER TABLE sequences DROP COLUMN tracks;
-- 'single': one email with its follow-ups to one prospect.
ALTER TABLE sequences ADD COLUMN kind TEXT NOT NULL DEFAULT 'shared' CHECK (kind IN ('shared', 'single'));
-- Whom the list of sequences shows it to: everybody, or its owner and managers.
ALTER TABLE sequences ADD COLUMN is_personal INTEGER NOT NULL DEFAULT 0 CHECK (is_personal IN (0, 1));
ALTER TABLE sequences ADD COLUMN archived_at INTEGER;
ALTER TABLE sequences ADD COLUMN deleted_at INTEGER;
-- Counts up with every save of whatever kind: a second tab's save of an older state is refused.
ALTER TABLE sequences ADD COLUMN revision INTEGER NOT NULL DEFAULT 1;

-- ── Touches of every kind: an email, a rep's task and a draft that waits for a yes ──
CREATE TABLE touches_new (
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
  copy_due INTEGER NOT NULL DEFAULT 0,
  UNIQUE (journey_id, step_id),
  CHECK ((kind IN ('answer', 'test')) = (journey_id IS NULL)),
  CHECK ((journey_id IS NULL) = (step_id IS NULL)),
  CHECK (state NOT IN ('queued', 'claimed', 'sent') OR (message_id IS NOT NULL AND mailbox_id IS NOT NULL))
) STRICT;
INSERT INTO touches_new (id, kind, journey_id, step_id, version, variant_id, prospect_id, mailbox_id, recipient, state, at,
    due_at, ended_at, message_id, in_reply_to, thread_references, subject, body, markup, claimed_at, claimed_wall, sent_at,
    refused_words, undecided_at, server_answer, copy_due)
  SELECT id, CASE kind WHEN 'step' THEN 'email' ELSE kind END, journey_id, step_id, version,
    CASE kind WHEN 'step' THEN 'a' END, prospect_id, mailbox_id, recipient, state, claimed_at, claimed_at,
    coalesce(sent_at, CASE state WHEN 'refused' THEN claimed_at END), message_id, in_reply_to, thread_references, subject,
    body, markup, claimed_at, claimed_wall, sent_at, refused_words, undecided_at, server_answer, copy_due
  FROM touches;
DROP TABLE touches;
ALTER TABLE touches_new RENAME TO touches;
CREATE INDEX touches_open ON touches (state) WHERE state IN ('queued', 'claimed');
CREATE INDEX touches_for_rep ON touches (state, due_at) WHERE state IN ('draft', 'approved', 'open');
CREATE INDEX touches_by_mailbox ON touches (mailbox_id, sent_at);
CREATE INDEX touches_by_prospect ON touches (prospect_id, sent_at);
CREATE INDEX touches_copy_due ON touches (mailbox_id) WHERE copy_due = 1;
CREATE INDEX touches_by_recipient ON touches (recipient);

-- ── Holds: a journey waits until something changes; `until` null: until it is lifted ──
CREATE TABLE holds (
  id INTEGER PRIMARY KEY,
  scope TEXT NOT NULL CHECK (scope IN ('journey', 'prospect', 'company')),
  scope_id INTEGER NOT NULL,
  reason TEXT NOT NULL CHECK (reason IN ('paused_by_rep', 'colleague_replied', 'away')),
  detail TEXT,
  since INTEGER NOT NULL,
  until INTEGER,
  -- Who of the company answered: not held themselves.
  cause_prospect_id INTEGER REFERENCES prospects (id),
  UNIQUE (scope, scope_id, reason)
) STRICT;

-- ── Decisions: what the tool decided for somebody, when and why. Append-only ──
CREATE TABLE decisions (
  id INTEGER PRIMARY KEY,
  journey_id INTEGER NOT NULL REFERENCES journeys (id),
  at INTEGER NOT NULL,
  node_id TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('fork', 'skip', 'lapse', 'move')),
  outcome TEXT NOT NULL DEFAULT '',
  -- What it was decided by (JSON).
  inputs TEXT NOT NULL DEFAULT '{}'
) STRICT;
CREATE INDEX decisions_by_journey ON decisions (journey_id, id);
CREATE TRIGGER decisions_stay BEFORE UPDATE ON decisions BEGIN SELECT RAISE(ABORT, 'decisions are append-only'); END;

-- ── What is to be looked at again ──
CREATE TABLE reconsider (journey_id INTEGER PRIMARY KEY) STRICT;

-- Events gain kinds; they stay append-only, but for a merge and an erasure.
DROP TRIGGER events_stay;
DROP TRIGGER events_remain;
CREATE TABLE events_new (
  id INTEGER PRIMARY KEY,
  at INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN (
    'journey_started', 'journey_stopped', 'journey_finished', 'email_sent', 'email_refused',
    'opened', 'clicked', 'replied', 'away', 'bounced', 'opted_out', 'booked', 'answered',
    'left_company', 'complained', 'likely_reply', 'booking_cancelled', 'booking_moved', 'unblocked',
    'touch_done', 'touch_skipped', 'accepted', 'approved'
  )),
  prospect_id INTEGER REFERENCES prospects (id),
  journey_id INTEGER REFERENCES journeys (id),
  touch_id INTEGER REFERENCES touches (id),
  mailbox_id INTEGER REFERENCES mailboxes (id),
  reply_id INTEGER REFERENCES replies (id),
  user_id INTEGER REFERENCES users (id),
  detail TEXT
) STRICT;
INSERT INTO events_new SELECT id, at, kind, prospect_id, journey_id, touch_id, mailbox_id, reply_id, user_id, detail FROM events;
DROP TABLE events;
ALTER TABLE events_new RENAME TO events;
CREATE INDEX events_by_prospect ON events (prospect_id, at);
CREATE INDEX events_by_journey ON events (journey_id, kind);
CREATE INDEX events_by_kind ON events (kind, at);
CREATE TRIGGER events_stay BEFORE UPDATE ON events
  WHEN NEW.id IS NOT OLD.id OR NEW.at IS NOT OLD.at OR NEW.kind IS NOT OLD.kind
    OR NEW.journey_id IS NOT OLD.journey_id OR NEW.touch_id IS NOT OLD.touch_id
    OR NEW.mailbox_id IS NOT OLD.mailbox_id OR NEW.reply_id IS NOT OLD.reply_id
    OR NEW.user_id IS NOT OLD.user_id OR (NEW.detail IS NOT OLD.detail AND NEW.detail IS NOT NULL)
  BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
CREATE TRIGGER events_remain BEFORE DELETE ON events BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;

CREATE TRIGGER reconsider_events AFTER INSERT ON events WHEN NEW.kind IN ('opened', 'clicked', 'accepted') BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE prospect_id = NEW.prospect_id AND state = 'active';
END;
CREATE TRIGGER reconsider_touches AFTER UPDATE OF state ON touches
  WHEN NEW.journey_id IS NOT NULL AND NEW.state IS NOT OLD.state AND NEW.state NOT IN ('claimed', 'approved') BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE id = NEW.journey_id AND state = 'active';
END;
CREATE TRIGGER reconsider_people
  AFTER UPDATE OF email, first_name, last_name, company, title, city, country, phone, profile, custom, time_zone ON prospects
  BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE prospect_id = NEW.id AND state = 'active';
END;
CREATE TRIGGER reconsider_released AFTER DELETE ON holds BEGIN
  INSERT OR IGNORE INTO reconsider SELECT j.id FROM journeys j JOIN prospects p ON p.id = j.prospect_id
    WHERE j.state = 'active' AND ((OLD.scope = 'journey' AND j.id = OLD.scope_id)
      OR (OLD.scope = 'prospect' AND p.id = OLD.scope_id) OR (OLD.scope = 'company' AND p.company_id = OLD.scope_id));
END;

-- ── Texts, files and starting points ──
-- One prospect's email of a step, written by hand.
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
-- A yes that was given before the start: this email of this prospect goes by itself.
CREATE TABLE approvals (
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  step_id TEXT NOT NULL,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL,
  PRIMARY KEY (sequence_id, step_id, prospect_id)
) STRICT, WITHOUT ROWID;
-- Pictures and attachments.
CREATE TABLE files (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  type TEXT NOT NULL,
  bytes BLOB NOT NULL,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL
) STRICT;
-- Reusable pieces of text.
CREATE TABLE pieces (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  body TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL
) STRICT;
-- Sequences that were put on the shelf to start others from.
CREATE TABLE shelf (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  about TEXT NOT NULL DEFAULT '',
  path TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL
) STRICT;
