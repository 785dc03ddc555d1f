-- Times are epoch milliseconds, UTC. Closed lists are CHECKed here and parsed by Zod at the query's edge.

CREATE TABLE users (
  id INTEGER PRIMARY KEY,
  email TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL,
  password_hash TEXT NOT NULL,
  time_zone TEXT NOT NULL,
  -- The last part of the public booking page's address.
  booking_slug TEXT NOT NULL UNIQUE,
  created_at INTEGER NOT NULL
) STRICT;

CREATE TABLE sessions (
  -- SHA-256 of the cookie's token: a stolen database opens no session.
  token_hash TEXT PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  expires_at INTEGER NOT NULL
) STRICT;

CREATE TABLE sign_in_failures (
  email TEXT NOT NULL,
  at INTEGER NOT NULL
) STRICT;
CREATE INDEX sign_in_failures_by_email ON sign_in_failures (email, at);

CREATE TABLE companies (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  domain TEXT NOT NULL UNIQUE
) STRICT;

CREATE TABLE imports (
  id INTEGER PRIMARY KEY,
  file_name TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  rows INTEGER NOT NULL,
  added INTEGER NOT NULL,
  known INTEGER NOT NULL,
  refused INTEGER NOT NULL,
  at INTEGER NOT NULL
) STRICT;

CREATE TABLE prospects (
  id INTEGER PRIMARY KEY,
  email TEXT NOT NULL UNIQUE,
  first_name TEXT NOT NULL DEFAULT '',
  last_name TEXT NOT NULL DEFAULT '',
  company_id INTEGER REFERENCES companies (id),
  title TEXT NOT NULL DEFAULT '',
  city TEXT NOT NULL DEFAULT '',
  country TEXT NOT NULL DEFAULT '',
  time_zone TEXT,
  stage TEXT NOT NULL DEFAULT 'new'
    CHECK (stage IN ('new', 'contacted', 'in_conversation', 'meeting_booked', 'won', 'lost')),
  -- Fields of the list's own, {"name": "text"}.
  custom TEXT NOT NULL DEFAULT '{}',
  import_id INTEGER REFERENCES imports (id),
  created_at INTEGER NOT NULL
) STRICT;
-- The sorts of the Prospects page.
CREATE INDEX prospects_by_name ON prospects (last_name, first_name, id);
CREATE INDEX prospects_by_company ON prospects (company_id, id);
CREATE INDEX prospects_by_stage ON prospects (stage, id);
CREATE INDEX prospects_by_created ON prospects (created_at, id);

CREATE TABLE lists (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  created_at INTEGER NOT NULL
) STRICT;

CREATE TABLE list_prospects (
  list_id INTEGER NOT NULL REFERENCES lists (id) ON DELETE CASCADE,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE,
  PRIMARY KEY (list_id, prospect_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX list_prospects_by_prospect ON list_prospects (prospect_id);

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
  uid_validity INTEGER,
  last_uid INTEGER NOT NULL DEFAULT 0,
  created_at INTEGER NOT NULL
) STRICT;

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
  tracks INTEGER NOT NULL DEFAULT 1 CHECK (tracks IN (0, 1)),
  state TEXT NOT NULL DEFAULT 'draft' CHECK (state IN ('draft', 'running', 'paused')),
  created_at INTEGER NOT NULL
) STRICT;

CREATE TABLE sequence_versions (
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  steps TEXT NOT NULL,
  saved_at INTEGER NOT NULL,
  PRIMARY KEY (sequence_id, number)
) STRICT, WITHOUT ROWID;

CREATE TABLE sequence_mailboxes (
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  PRIMARY KEY (sequence_id, mailbox_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE journeys (
  id INTEGER PRIMARY KEY,
  sequence_id INTEGER NOT NULL REFERENCES sequences (id),
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  state TEXT NOT NULL DEFAULT 'active' CHECK (state IN ('active', 'finished', 'stopped')),
  -- The thread's mailbox, from the first email on.
  mailbox_id INTEGER REFERENCES mailboxes (id),
  due_at INTEGER NOT NULL,
  -- The recorded decision: when and from where the next touch goes, or why it waits.
  next_step_id TEXT,
  next_at INTEGER,
  next_mailbox_id INTEGER REFERENCES mailboxes (id),
  wait_reason TEXT,
  wait_detail TEXT,
  stop_reason TEXT,
  stop_detail TEXT,
  ended_at INTEGER,
  started_at INTEGER NOT NULL,
  UNIQUE (sequence_id, prospect_id)
) STRICT;
CREATE INDEX journeys_active ON journeys (state, next_at) WHERE state = 'active';
-- Nobody is on two journeys at once: not across sequences, not across teammates.
CREATE UNIQUE INDEX journeys_one_active ON journeys (prospect_id) WHERE state = 'active';
CREATE INDEX journeys_by_prospect ON journeys (prospect_id);

-- The ledger. A row is claimed before SMTP is spoken and settled after; the unique pair makes a
-- second send of a step impossible.
CREATE TABLE touches (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('step', 'answer')),
  journey_id INTEGER REFERENCES journeys (id),
  step_id TEXT,
  version INTEGER,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  state TEXT NOT NULL CHECK (state IN ('queued', 'claimed', 'sent', 'refused')),
  message_id TEXT NOT NULL UNIQUE,
  in_reply_to TEXT,
  thread_references TEXT NOT NULL DEFAULT '',
  subject TEXT NOT NULL,
  body TEXT NOT NULL,
  claimed_at INTEGER,
  -- The machine's own clock at the claim: SMTP's patience is real time, also in the demo.
  claimed_wall INTEGER,
  sent_at INTEGER,
  refused_words TEXT,
  UNIQUE (journey_id, step_id),
  CHECK ((kind = 'step') = (journey_id IS NOT NULL AND step_id IS NOT NULL))
) STRICT;
CREATE INDEX touches_open ON touches (state) WHERE state IN ('queued', 'claimed');
CREATE INDEX touches_by_mailbox ON touches (mailbox_id, sent_at);
CREATE INDEX touches_by_prospect ON touches (prospect_id, sent_at);

-- What arrived in the mailboxes.
CREATE TABLE replies (
  id INTEGER PRIMARY KEY,
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  message_id TEXT NOT NULL,
  prospect_id INTEGER REFERENCES prospects (id),
  touch_id INTEGER REFERENCES touches (id),
  kind TEXT NOT NULL CHECK (kind IN ('person', 'automatic', 'bounce')),
  from_address TEXT NOT NULL,
  from_name TEXT NOT NULL,
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
CREATE INDEX replies_by_prospect ON replies (prospect_id, at);
CREATE INDEX replies_by_kind ON replies (kind, at);
CREATE INDEX replies_unread ON replies (at) WHERE read_at IS NULL AND kind = 'person';

CREATE TABLE meetings (
  id INTEGER PRIMARY KEY,
  -- Also the iCalendar UID, and the address of its page.
  token TEXT NOT NULL UNIQUE,
  user_id INTEGER NOT NULL REFERENCES users (id),
  prospect_id INTEGER REFERENCES prospects (id),
  name TEXT NOT NULL,
  email TEXT NOT NULL,
  starts_at INTEGER NOT NULL,
  ends_at INTEGER NOT NULL,
  visitor_zone TEXT NOT NULL,
  created_at INTEGER NOT NULL,
  UNIQUE (user_id, starts_at)
) STRICT;

CREATE TABLE block_list (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('address', 'domain')),
  value TEXT NOT NULL,
  reason TEXT NOT NULL CHECK (reason IN ('opted_out', 'bounced', 'added_by_rep')),
  at INTEGER NOT NULL,
  UNIQUE (kind, value)
) STRICT;

-- Append-only: what happened. Counts and rates derive from it.
CREATE TABLE events (
  id INTEGER PRIMARY KEY,
  at INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN (
    'journey_started', 'journey_stopped', 'journey_finished', 'email_sent', 'email_refused',
    'opened', 'clicked', 'replied', 'away', 'bounced', 'opted_out', 'booked', 'answered'
  )),
  prospect_id INTEGER REFERENCES prospects (id),
  journey_id INTEGER REFERENCES journeys (id),
  touch_id INTEGER REFERENCES touches (id),
  mailbox_id INTEGER REFERENCES mailboxes (id),
  reply_id INTEGER REFERENCES replies (id),
  user_id INTEGER REFERENCES users (id),
  detail TEXT
) STRICT;
CREATE INDEX events_by_prospect ON events (prospect_id, at);
CREATE INDEX events_by_journey ON events (journey_id, kind);
CREATE INDEX events_by_kind ON events (kind, at);
CREATE TRIGGER events_stay BEFORE UPDATE ON events BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
CREATE TRIGGER events_remain BEFORE DELETE ON events BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;

-- One engine works at a time; its lease runs out by the machine's own clock.
CREATE TABLE engine_lease (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  holder TEXT NOT NULL,
  expires_wall INTEGER NOT NULL,
  ticked_wall INTEGER
) STRICT;

-- The demo's clock; empty where real time runs. `started_wall` null: it stands still at `base`.
CREATE TABLE demo_clock (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  base INTEGER NOT NULL,
  started_wall INTEGER
) STRICT;

-- What the demo's clock was asked to do; the engine carries it out.
CREATE TABLE clock_moves (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('next_event', 'next_morning', 'until')),
  until INTEGER,
  now INTEGER,
  state TEXT NOT NULL DEFAULT 'asked' CHECK (state IN ('asked', 'moving', 'done', 'cancelled'))
) STRICT;
