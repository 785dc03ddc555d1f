-- Accounts with roles, public pages of a company, mailboxes that meet real servers, and mail that nobody foresaw.

-- ── Accounts ──
ALTER TABLE users ADD COLUMN role TEXT NOT NULL DEFAULT 'rep' CHECK (role IN ('rep', 'manager'));
-- Whoever set the installation up looks after it; so do all of an older one, where everybody could do everything.
UPDATE users SET role = 'manager';
-- What a user set for themselves (server/accounts/settings.ts), as JSON.
ALTER TABLE users ADD COLUMN settings TEXT NOT NULL DEFAULT '{}';
-- Their sequences and mailboxes stay; they cannot sign in any more.
ALTER TABLE users ADD COLUMN removed_at INTEGER;

-- Sessions are listed, so they have a number that may be shown; and when they were last used, for the idle limit.
DROP TABLE sessions;
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

-- Tries are counted before the password is looked at: by address and caller together, and by caller.
DROP TABLE sign_in_failures;
CREATE TABLE sign_in_tries (email TEXT NOT NULL, caller TEXT NOT NULL, at INTEGER NOT NULL) STRICT;
CREATE INDEX sign_in_tries_by_email ON sign_in_tries (email, caller, at);
CREATE INDEX sign_in_tries_by_caller ON sign_in_tries (caller, at);

-- One-time links with which a manager lets somebody in who is new or forgot the password.
CREATE TABLE password_links (
  token_hash TEXT PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  expires_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- ── Meetings: cancelled and moved; a cancelled half-hour is free again ──
CREATE TABLE meetings_new (
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
) STRICT;
INSERT INTO meetings_new (id, token, user_id, prospect_id, name, email, starts_at, ends_at, visitor_zone, created_at)
  SELECT id, token, user_id, prospect_id, name, email, starts_at, ends_at, visitor_zone, created_at FROM meetings;
DROP TABLE meetings;
ALTER TABLE meetings_new RENAME TO meetings;
CREATE UNIQUE INDEX meetings_once ON meetings (user_id, starts_at) WHERE cancelled_at IS NULL;
CREATE INDEX meetings_by_prospect ON meetings (prospect_id);

-- ── Mailboxes ──
-- Another user name for reading, "" for the same.
ALTER TABLE mailboxes ADD COLUMN imap_username TEXT NOT NULL DEFAULT '';
-- The certificate authority of a server with a certificate of its own, as PEM.
ALTER TABLE mailboxes ADD COLUMN certificate TEXT NOT NULL DEFAULT '';
-- Signed in with a password, or with a token that a provider gives for the sealed refresh token (RFC 6749 6).
ALTER TABLE mailboxes ADD COLUMN auth TEXT NOT NULL DEFAULT 'password' CHECK (auth IN ('password', 'token'));
ALTER TABLE mailboxes ADD COLUMN token_url TEXT NOT NULL DEFAULT '';
ALTER TABLE mailboxes ADD COLUMN client_id TEXT NOT NULL DEFAULT '';
ALTER TABLE mailboxes ADD COLUMN client_secret_sealed TEXT NOT NULL DEFAULT '';
-- Folders read besides INBOX and Junk, as a JSON array of paths.
ALTER TABLE mailboxes ADD COLUMN more_folders TEXT NOT NULL DEFAULT '[]';
-- Who puts copies of sent email into the Sent folder, as far as was seen.
ALTER TABLE mailboxes ADD COLUMN copies TEXT NOT NULL DEFAULT 'unknown' CHECK (copies IN ('unknown', 'server', 'app', 'none'));
-- Counts up when the settings are saved: tries at once what had been put off.
ALTER TABLE mailboxes ADD COLUMN revision INTEGER NOT NULL DEFAULT 0;
-- By the machine's clock: when its inbox was first and last read to the end.
ALTER TABLE mailboxes ADD COLUMN connected_wall INTEGER;
ALTER TABLE mailboxes ADD COLUMN read_wall INTEGER;
-- Failures in a row, for how long to leave the server alone.
ALTER TABLE mailboxes ADD COLUMN smtp_failures INTEGER NOT NULL DEFAULT 0;
-- 1: the server refused for a reason that a person has to look at; nothing goes until then.
ALTER TABLE mailboxes ADD COLUMN smtp_stopped INTEGER NOT NULL DEFAULT 0;

-- How far each folder has been read (RFC 9051 2.3.1.1).
CREATE TABLE folder_marks (
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id) ON DELETE CASCADE,
  path TEXT NOT NULL,
  uid_validity INTEGER NOT NULL,
  last_uid INTEGER NOT NULL,
  PRIMARY KEY (mailbox_id, path)
) STRICT, WITHOUT ROWID;
INSERT INTO folder_marks SELECT id, 'INBOX', uid_validity, last_uid FROM mailboxes WHERE uid_validity IS NOT NULL;
UPDATE mailboxes SET connected_wall = created_at WHERE uid_validity IS NOT NULL;
ALTER TABLE mailboxes DROP COLUMN uid_validity;
ALTER TABLE mailboxes DROP COLUMN last_uid;

-- Messages that could not be read in time, for a person to look at in their mail program.
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

-- ── The ledger ──
-- Nobody can tell whether it left: the rep decides (server/sending/undecided.ts).
ALTER TABLE touches ADD COLUMN undecided_at INTEGER;
-- The body as Markdown in which merged values are protected; null where the body itself is what was typed.
ALTER TABLE touches ADD COLUMN markup TEXT;
-- What the server said when it took the email, its queue's number among it.
ALTER TABLE touches ADD COLUMN server_answer TEXT;
-- 1 until a copy lies in the Sent folder, or it is known that the server puts it there.
ALTER TABLE touches ADD COLUMN copy_due INTEGER NOT NULL DEFAULT 0;
CREATE INDEX touches_copy_due ON touches (mailbox_id) WHERE copy_due = 1;
CREATE INDEX touches_by_recipient ON touches (recipient);

-- ── What arrives ──
CREATE TABLE replies_new (
  id INTEGER PRIMARY KEY,
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  message_id TEXT NOT NULL,
  prospect_id INTEGER REFERENCES prospects (id),
  touch_id INTEGER REFERENCES touches (id),
  kind TEXT NOT NULL CHECK (kind IN ('person', 'automatic', 'left', 'bounce', 'delay', 'complaint', 'receipt')),
  -- 'likely': no id says so; the journey waits until the rep has said whether it is an answer. 'denied': it is none.
  certainty TEXT NOT NULL DEFAULT 'sure' CHECK (certainty IN ('sure', 'likely', 'denied')),
  from_address TEXT NOT NULL,
  from_name TEXT NOT NULL,
  answer_to TEXT NOT NULL DEFAULT '',
  subject TEXT NOT NULL,
  -- What they wrote, and the quoted rest.
  text TEXT NOT NULL,
  quoted TEXT NOT NULL DEFAULT '',
  detail TEXT,
  thread_references TEXT NOT NULL DEFAULT '',
  at INTEGER NOT NULL,
  read_at INTEGER,
  UNIQUE (mailbox_id, message_id)
) STRICT;
INSERT INTO replies_new (id, mailbox_id, message_id, prospect_id, touch_id, kind, from_address, from_name, answer_to,
    subject, text, quoted, detail, thread_references, at, read_at)
  SELECT id, mailbox_id, message_id, prospect_id, touch_id, kind, from_address, from_name, answer_to,
    subject, text, quoted, detail, thread_references, at, read_at FROM replies;
DROP TABLE replies;
ALTER TABLE replies_new RENAME TO replies;
CREATE INDEX replies_by_prospect ON replies (prospect_id, at);
CREATE INDEX replies_by_kind ON replies (kind, at);
CREATE INDEX replies_unread ON replies (at) WHERE read_at IS NULL;
CREATE INDEX replies_likely ON replies (prospect_id) WHERE certainty = 'likely';

-- Answers that are being written, one for each conversation and user.
CREATE TABLE answer_drafts (
  reply_id INTEGER NOT NULL REFERENCES replies (id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  text TEXT NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (reply_id, user_id)
) STRICT, WITHOUT ROWID;

-- Events gain kinds; they stay append-only, but for a merge and an erasure.
DROP TRIGGER events_stay;
DROP TRIGGER events_remain;
CREATE TABLE events_new (
  id INTEGER PRIMARY KEY,
  at INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN (
    'journey_started', 'journey_stopped', 'journey_finished', 'email_sent', 'email_refused',
    'opened', 'clicked', 'replied', 'away', 'bounced', 'opted_out', 'booked', 'answered',
    'left_company', 'complained', 'likely_reply', 'booking_cancelled', 'booking_moved', 'unblocked'
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

-- Loads of a pixel or a link beyond the first few, which are events.
CREATE TABLE load_tallies (
  touch_id INTEGER NOT NULL REFERENCES touches (id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('opened', 'clicked')),
  loads INTEGER NOT NULL,
  PRIMARY KEY (touch_id, kind)
) STRICT, WITHOUT ROWID;
INSERT INTO load_tallies
  SELECT touch_id, kind, count(*) FROM events WHERE kind IN ('opened', 'clicked') AND touch_id IS NOT NULL
  GROUP BY touch_id, kind;

-- ── A free-mail domain is no company (is_free_mail is a function of ours, core/prospects/free-mail.ts) ──
-- Whoever made the company keeps its name; of the others only what cleaning kept is known to be theirs.
CREATE TEMP TABLE free_mail AS SELECT id, name, domain FROM companies WHERE domain IS NOT NULL AND is_free_mail(domain);
UPDATE prospects SET company_id = NULL, company = coalesce((
    SELECT json_extract(f.value, '$.cleaned') FROM cleanings c, json_each(c.fields) f
    WHERE c.prospect_id = prospects.id AND json_extract(f.value, '$.field') = 'company'), '')
  WHERE company_id IN (SELECT id FROM free_mail)
    AND id != (SELECT min(p.id) FROM prospects p WHERE p.company_id = prospects.company_id);
UPDATE prospects SET company_id = NULL, company = ''
  WHERE company_id IN (SELECT id FROM free_mail WHERE name = domain);
UPDATE companies SET domain = NULL WHERE id IN (SELECT id FROM free_mail);
INSERT INTO companies (name) SELECT DISTINCT company FROM prospects
  WHERE company_id IS NULL AND company != '' AND NOT EXISTS (SELECT 1 FROM companies c WHERE c.name = prospects.company);
UPDATE prospects SET company_id = (SELECT min(c.id) FROM companies c WHERE c.name = prospects.company)
  WHERE company_id IS NULL AND company != '';
DROP TABLE free_mail;

-- ── The engine ──
-- What keeps it from finishing a tick, in words; null while it does.
ALTER TABLE engine_lease ADD COLUMN problem TEXT;

-- ── Counts of long lists, kept until what they count has changed (server/db/kept-counts.ts) ──
CREATE TABLE revisions (name TEXT PRIMARY KEY, number INTEGER NOT NULL) STRICT, WITHOUT ROWID;
INSERT INTO revisions VALUES ('cleanings', 0), ('duplicates', 0);
CREATE TRIGGER cleanings_added AFTER INSERT ON cleanings BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'cleanings';
END;
CREATE TRIGGER cleanings_changed AFTER UPDATE ON cleanings BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'cleanings';
END;
CREATE TRIGGER cleanings_gone AFTER DELETE ON cleanings BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'cleanings';
END;
CREATE TRIGGER duplicates_added AFTER INSERT ON duplicates BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'duplicates';
END;
CREATE TRIGGER duplicates_changed AFTER UPDATE ON duplicates BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'duplicates';
END;
CREATE TRIGGER duplicates_gone AFTER DELETE ON duplicates BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'duplicates';
END;
CREATE TRIGGER people_hidden AFTER UPDATE OF merged_into, erased_at ON prospects BEGIN
  UPDATE revisions SET number = number + 1 WHERE name = 'duplicates';
END;
