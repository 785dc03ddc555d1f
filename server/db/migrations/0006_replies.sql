-- Replies that are read and acted on: labels with what follows, undo, reminders, notices, booking pages, busy calendars, search.

-- ── Labels ──
CREATE TABLE labels (
  id INTEGER PRIMARY KEY,
  -- One of core/replies/labels.ts; null for one of the team's own.
  key TEXT UNIQUE,
  name TEXT NOT NULL,
  position INTEGER NOT NULL,
  -- What follows when it is set (core/replies/label-effects.ts), as JSON; what is missing is as usual for it.
  effects TEXT NOT NULL DEFAULT '{}',
  removed_at INTEGER
) STRICT;
CREATE UNIQUE INDEX labels_by_name ON labels (name) WHERE removed_at IS NULL;
INSERT INTO labels (key, name, position) VALUES
  ('interested', 'Interested', 1), ('question', 'Question', 2), ('not_now', 'Not now', 3),
  ('not_interested', 'Not interested', 4), ('wrong_person', 'Wrong person', 5), ('away', 'Away', 6), ('opt_out', 'Opt-out', 7);

-- ── Replies gain a kind, what they were read as, and their label ──
CREATE TABLE replies_new (
  id INTEGER PRIMARY KEY,
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  message_id TEXT NOT NULL,
  prospect_id INTEGER REFERENCES prospects (id),
  touch_id INTEGER REFERENCES touches (id),
  -- 'challenge': a server asks that a person confirms the sender.
  kind TEXT NOT NULL CHECK (kind IN ('person', 'automatic', 'left', 'bounce', 'delay', 'complaint', 'receipt', 'challenge')),
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
INSERT INTO replies_new (id, mailbox_id, message_id, prospect_id, touch_id, kind, certainty, from_address, from_name, answer_to,
    subject, text, quoted, detail, thread_references, at, read_at)
  SELECT id, mailbox_id, message_id, prospect_id, touch_id, kind, certainty, from_address, from_name, answer_to,
    subject, text, quoted, detail, thread_references, at, read_at FROM replies;
DROP TABLE replies;
ALTER TABLE replies_new RENAME TO replies;
CREATE INDEX replies_by_prospect ON replies (prospect_id, at);
CREATE INDEX replies_by_kind ON replies (kind, at, certainty, prospect_id);
CREATE INDEX replies_unread ON replies (at) WHERE read_at IS NULL;
CREATE INDEX replies_likely ON replies (prospect_id) WHERE certainty = 'likely';
CREATE INDEX replies_labelled ON replies (label_id, at) WHERE label_id IS NOT NULL;

-- What a press changed, row by row, for as long as it can be taken back (server/consequences/remember.ts).
CREATE TABLE undo_records (
  id INTEGER PRIMARY KEY,
  reply_id INTEGER REFERENCES replies (id) ON DELETE CASCADE,
  prospect_id INTEGER REFERENCES prospects (id) ON DELETE CASCADE,
  user_id INTEGER REFERENCES users (id),
  what TEXT NOT NULL,
  changes TEXT NOT NULL,
  at INTEGER NOT NULL,
  undone_at INTEGER
) STRICT;
CREATE INDEX undo_by_reply ON undo_records (reply_id, id);

-- ── Jobs gain a kind ──
CREATE TABLE jobs_new (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('look_through', 'import', 'search', 'verify', 'find_addresses', 'duplicates', 'learn')),
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

-- Models learned here from corrections; the newest that is in use sorts.
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

-- ── Answers that go later, and only if nothing came back ──
ALTER TABLE touches ADD COLUMN unless_reply INTEGER NOT NULL DEFAULT 0 CHECK (unless_reply IN (0, 1));
CREATE INDEX touches_later ON touches (prospect_id) WHERE state = 'queued';

-- ── Reminders: what a rep is to do for somebody on a day ──
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
CREATE INDEX reminders_open ON reminders (user_id, due_at) WHERE ended_at IS NULL;
CREATE INDEX reminders_by_prospect ON reminders (prospect_id);

-- ── Holds gain a reason: two emails in a row came back for now ──
CREATE TABLE holds_new (
  id INTEGER PRIMARY KEY,
  scope TEXT NOT NULL CHECK (scope IN ('journey', 'prospect', 'company')),
  scope_id INTEGER NOT NULL,
  reason TEXT NOT NULL CHECK (reason IN ('paused_by_rep', 'colleague_replied', 'away', 'came_back_twice', 'challenged')),
  detail TEXT,
  since INTEGER NOT NULL,
  until INTEGER,
  -- Who of the company answered: not held themselves.
  cause_prospect_id INTEGER REFERENCES prospects (id),
  UNIQUE (scope, scope_id, reason)
) STRICT;
INSERT INTO holds_new SELECT id, scope, scope_id, reason, detail, since, until, cause_prospect_id FROM holds;
DROP TABLE holds;
ALTER TABLE holds_new RENAME TO holds;
CREATE TRIGGER reconsider_released AFTER DELETE ON holds BEGIN
  INSERT OR IGNORE INTO reconsider SELECT j.id FROM journeys j JOIN prospects p ON p.id = j.prospect_id
    WHERE j.state = 'active' AND ((OLD.scope = 'journey' AND j.id = OLD.scope_id)
      OR (OLD.scope = 'prospect' AND p.id = OLD.scope_id) OR (OLD.scope = 'company' AND p.company_id = OLD.scope_id));
END;
CREATE TRIGGER decide_hold AFTER INSERT ON holds BEGIN
  INSERT INTO decisions (journey_id, at, node_id, kind, outcome, inputs)
  SELECT j.id, NEW.since, coalesce(j.place_id, ''), 'hold', NEW.reason,
    json_object('scope', NEW.scope, 'until', NEW.until, 'cause', NEW.cause_prospect_id)
  FROM journeys j JOIN prospects p ON p.id = j.prospect_id
  WHERE j.state = 'active' AND ((NEW.scope = 'journey' AND j.id = NEW.scope_id) OR (NEW.scope = 'prospect' AND p.id = NEW.scope_id)
    OR (NEW.scope = 'company' AND p.company_id = NEW.scope_id AND NEW.cause_prospect_id IS NOT p.id));
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

-- ── Events gain kinds; they stay append-only, but for a merge and an erasure ──
CREATE TABLE events_new (
  id INTEGER PRIMARY KEY,
  at INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN (
    'journey_started', 'journey_stopped', 'journey_finished', 'email_sent', 'email_refused',
    'opened', 'clicked', 'replied', 'away', 'bounced', 'opted_out', 'booked', 'answered',
    'left_company', 'complained', 'likely_reply', 'booking_cancelled', 'booking_moved', 'unblocked',
    'touch_done', 'touch_skipped', 'accepted', 'approved',
    'labelled', 'label_undone', 'stage_set', 'handed_over', 'challenged', 'journey_resumed',
    'meeting_held', 'meeting_missed', 'invitation_answered'
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
CREATE TRIGGER reconsider_events AFTER INSERT ON events WHEN NEW.kind IN ('opened', 'clicked', 'accepted', 'labelled') BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE prospect_id = NEW.prospect_id AND state = 'active';
END;

-- ── Booking pages: several for each rep, or for a team that takes turns ──
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
-- Who takes the calls; the next is whoever had the fewest.
CREATE TABLE booking_hosts (
  page_id INTEGER NOT NULL REFERENCES booking_pages (id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES users (id),
  PRIMARY KEY (page_id, user_id)
) STRICT, WITHOUT ROWID;
INSERT INTO booking_pages (slug, name, user_id, rules, created_at)
  SELECT booking_slug, 'Call', id, settings, created_at FROM users;
INSERT INTO booking_hosts (page_id, user_id) SELECT id, user_id FROM booking_pages;
-- Whoever joins has a page from the first day on.
CREATE TRIGGER first_booking_page AFTER INSERT ON users BEGIN
  INSERT INTO booking_pages (slug, name, user_id, rules, created_at)
    VALUES (NEW.booking_slug, 'Call', NEW.id, NEW.settings, NEW.created_at);
  INSERT INTO booking_hosts (page_id, user_id) SELECT id, user_id FROM booking_pages WHERE slug = NEW.booking_slug;
END;

ALTER TABLE meetings ADD COLUMN page_id INTEGER REFERENCES booking_pages (id);
-- What the visitor answered to the page's questions, as JSON: [{"question", "answer"}].
ALTER TABLE meetings ADD COLUMN answers TEXT NOT NULL DEFAULT '[]';
-- What they said to the invitation (RFC 5545 3.2.12), and when a rep noted that it took place or not.
ALTER TABLE meetings ADD COLUMN attendance TEXT NOT NULL DEFAULT 'open' CHECK (attendance IN ('open', 'accepted', 'declined', 'tentative'));
ALTER TABLE meetings ADD COLUMN held_at INTEGER;
ALTER TABLE meetings ADD COLUMN missed_at INTEGER;
-- Up to where invitations and reminders have been written for it.
ALTER TABLE meetings ADD COLUMN invited_moves INTEGER NOT NULL DEFAULT -1;
ALTER TABLE meetings ADD COLUMN reminded_at INTEGER;
CREATE INDEX meetings_by_time ON meetings (user_id, starts_at);
UPDATE meetings SET invited_moves = moves, page_id = (SELECT id FROM booking_pages p WHERE p.user_id = meetings.user_id);

-- ── Busy times from calendars elsewhere (iCalendar, RFC 5545) ──
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
) STRICT;
CREATE TABLE busy_times (
  calendar_id INTEGER NOT NULL REFERENCES calendars (id) ON DELETE CASCADE,
  starts_at INTEGER NOT NULL,
  ends_at INTEGER NOT NULL,
  PRIMARY KEY (calendar_id, starts_at, ends_at)
) STRICT, WITHOUT ROWID;

-- ── Mail that is no touch: invitations to meetings, and notices to ourselves ──
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

-- ── Notices ──
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
  mailed_at INTEGER,
  UNIQUE (user_id, kind, about)
) STRICT;
CREATE INDEX notices_by_user ON notices (user_id, id);
CREATE INDEX notices_to_mail ON notices (mail_at) WHERE mailed_at IS NULL AND mail_at IS NOT NULL;
-- Up to which event notices have been written.
CREATE TABLE notice_mark (id INTEGER PRIMARY KEY CHECK (id = 1), event_id INTEGER NOT NULL) STRICT;
INSERT INTO notice_mark SELECT 1, coalesce(max(id), 0) FROM events;

-- ── Search over all messages; rowids: twice a reply's id, twice a touch's and one ──
CREATE VIRTUAL TABLE message_words USING fts5 (
  subject, body, who, content='', contentless_delete=1, tokenize="unicode61 remove_diacritics 2");
-- Scripts that do not put spaces between words.
CREATE VIRTUAL TABLE message_pieces USING fts5 (body, content='', contentless_delete=1, tokenize='trigram');
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
-- An email is found once it left.
CREATE TRIGGER words_of_email AFTER UPDATE OF state ON touches WHEN NEW.state = 'sent' AND OLD.state != 'sent' AND NEW.kind != 'test' BEGIN
  INSERT INTO message_words (rowid, subject, body, who) VALUES (2 * NEW.id + 1, NEW.subject, NEW.body, NEW.recipient);
  INSERT INTO message_pieces (rowid, body) SELECT 2 * NEW.id + 1, NEW.subject || ' ' || NEW.body
    WHERE NEW.subject || NEW.body GLOB '*[฀-๿぀-ヿ㐀-鿿가-힣]*';
END;
CREATE TRIGGER words_of_email_change AFTER UPDATE OF subject, body, recipient ON touches
  WHEN OLD.state = 'sent' AND OLD.kind != 'test' AND (NEW.subject IS NOT OLD.subject OR NEW.body IS NOT OLD.body OR NEW.recipient IS NOT OLD.recipient) BEGIN
  DELETE FROM message_words WHERE rowid = 2 * OLD.id + 1;
  DELETE FROM message_pieces WHERE rowid = 2 * OLD.id + 1;
  INSERT INTO message_words (rowid, subject, body, who) VALUES (2 * NEW.id + 1, NEW.subject, NEW.body, NEW.recipient);
  INSERT INTO message_pieces (rowid, body) SELECT 2 * NEW.id + 1, NEW.subject || ' ' || NEW.body
    WHERE NEW.subject || NEW.body GLOB '*[฀-๿぀-ヿ㐀-鿿가-힣]*';
END;
CREATE TRIGGER words_of_email_gone AFTER DELETE ON touches WHEN OLD.state = 'sent' BEGIN
  DELETE FROM message_words WHERE rowid = 2 * OLD.id + 1;
  DELETE FROM message_pieces WHERE rowid = 2 * OLD.id + 1;
END;
INSERT INTO message_words (rowid, subject, body, who)
  SELECT 2 * id, subject, text, from_name || ' ' || from_address FROM replies
  UNION ALL SELECT 2 * id + 1, subject, body, recipient FROM touches WHERE state = 'sent' AND kind != 'test';
INSERT INTO message_pieces (rowid, body)
  SELECT 2 * id, subject || ' ' || text FROM replies WHERE subject || text GLOB '*[฀-๿぀-ヿ㐀-鿿가-힣]*'
  UNION ALL SELECT 2 * id + 1, subject || ' ' || body FROM touches
    WHERE state = 'sent' AND kind != 'test' AND subject || body GLOB '*[฀-๿぀-ヿ㐀-鿿가-힣]*';
