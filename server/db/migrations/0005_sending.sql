-- Sending: limits that rise, pools, what is planned anew, social accounts, and every decision on record.

-- ── Mailboxes ──
ALTER TABLE mailboxes ADD COLUMN reply_to TEXT NOT NULL DEFAULT '';
-- A JSON array of words.
ALTER TABLE mailboxes ADD COLUMN tags TEXT NOT NULL DEFAULT '[]';
ALTER TABLE mailboxes ADD COLUMN hourly_limit INTEGER CHECK (hourly_limit BETWEEN 1 AND 500);
-- A limit that rises with each day of sending since `ramp_since`, up to the daily limit; null: it does not rise.
ALTER TABLE mailboxes ADD COLUMN ramp_start INTEGER CHECK (ramp_start BETWEEN 1 AND 500);
ALTER TABLE mailboxes ADD COLUMN ramp_step INTEGER NOT NULL DEFAULT 2 CHECK (ramp_step BETWEEN 1 AND 100);
ALTER TABLE mailboxes ADD COLUMN ramp_since INTEGER;
-- Hours of its own (core/calendar.ts, SendingHours) as JSON; null: those of the prospects are enough.
ALTER TABLE mailboxes ADD COLUMN hours TEXT;
-- Who runs its mail: the registrable domain of its mail exchanger; "" as long as nobody has asked.
ALTER TABLE mailboxes ADD COLUMN provider TEXT NOT NULL DEFAULT '';
-- Bounces before this are not counted against it any more: it has rested for them.
ALTER TABLE mailboxes ADD COLUMN counted_from INTEGER;
-- It sends and reads no more; what it sent stays on record.
ALTER TABLE mailboxes ADD COLUMN removed_at INTEGER;

-- Mailboxes that take turns for several sequences.
CREATE TABLE pools (id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE) STRICT;
CREATE TABLE pool_mailboxes (
  pool_id INTEGER NOT NULL REFERENCES pools (id) ON DELETE CASCADE,
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  PRIMARY KEY (pool_id, mailbox_id)
) STRICT, WITHOUT ROWID;
ALTER TABLE sequences ADD COLUMN pool_id INTEGER REFERENCES pools (id);

-- Who runs the mail of a domain, as its mail exchanger says; "" where there is none.
CREATE TABLE mail_hosts (domain TEXT PRIMARY KEY, provider TEXT NOT NULL, at INTEGER NOT NULL) STRICT, WITHOUT ROWID;
-- What DNS says about a domain that mail is sent from (core/sending/domain-check.ts), as JSON.
CREATE TABLE domain_checks (domain TEXT PRIMARY KEY, result TEXT NOT NULL, at INTEGER NOT NULL) STRICT, WITHOUT ROWID;

-- ── Social accounts ──
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
ALTER TABLE touches ADD COLUMN account_id INTEGER REFERENCES social_accounts (id);
CREATE INDEX touches_by_account ON touches (account_id, ended_at) WHERE account_id IS NOT NULL;

CREATE INDEX touches_by_time ON touches (sent_at) WHERE sent_at IS NOT NULL;

-- ── Decisions of every kind ──
CREATE TABLE decisions_new (
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
INSERT INTO decisions_new SELECT id, journey_id, at, node_id, kind, outcome, inputs FROM decisions;
DROP TABLE decisions;
ALTER TABLE decisions_new RENAME TO decisions;
CREATE INDEX decisions_by_journey ON decisions (journey_id, id);
CREATE TRIGGER decisions_stay BEFORE UPDATE ON decisions BEGIN SELECT RAISE(ABORT, 'decisions are append-only'); END;

CREATE TRIGGER decide_start AFTER INSERT ON journeys WHEN NEW.state = 'active' BEGIN
  INSERT INTO decisions (journey_id, at, node_id, kind) VALUES (NEW.id, NEW.started_at, coalesce(NEW.place_id, ''), 'start');
END;
CREATE TRIGGER decide_end AFTER UPDATE OF state ON journeys WHEN OLD.state = 'active' AND NEW.state != 'active' BEGIN
  INSERT INTO decisions (journey_id, at, node_id, kind, outcome)
  VALUES (NEW.id, coalesce(NEW.ended_at, NEW.since), coalesce(OLD.place_id, ''),
    CASE NEW.state WHEN 'finished' THEN 'finish' ELSE 'stop' END, coalesce(NEW.stop_reason, ''));
END;
CREATE TRIGGER decide_hold AFTER INSERT ON holds BEGIN
  INSERT INTO decisions (journey_id, at, node_id, kind, outcome, inputs)
  SELECT j.id, NEW.since, coalesce(j.place_id, ''), 'hold', NEW.reason,
    json_object('scope', NEW.scope, 'until', NEW.until, 'cause', NEW.cause_prospect_id)
  FROM journeys j JOIN prospects p ON p.id = j.prospect_id
  WHERE j.state = 'active' AND ((NEW.scope = 'journey' AND j.id = NEW.scope_id) OR (NEW.scope = 'prospect' AND p.id = NEW.scope_id)
    OR (NEW.scope = 'company' AND p.company_id = NEW.scope_id AND NEW.cause_prospect_id IS NOT p.id));
END;

-- ── Whom the plan has to look at anew ──
CREATE TABLE replan (journey_id INTEGER PRIMARY KEY) STRICT;
CREATE TRIGGER replan_begun AFTER INSERT ON journeys BEGIN
  INSERT OR IGNORE INTO replan VALUES (NEW.id);
END;
CREATE TRIGGER replan_moved AFTER UPDATE OF state, version, place_id, since, wake_at, mailbox_id, due_at, sequence_id ON journeys
  WHEN NEW.state IS NOT OLD.state OR NEW.version IS NOT OLD.version OR NEW.place_id IS NOT OLD.place_id OR NEW.since IS NOT OLD.since
    OR NEW.wake_at IS NOT OLD.wake_at OR NEW.mailbox_id IS NOT OLD.mailbox_id OR NEW.due_at IS NOT OLD.due_at
    OR NEW.sequence_id IS NOT OLD.sequence_id BEGIN
  INSERT OR IGNORE INTO replan VALUES (NEW.id);
END;
-- Reasons that were set or lifted by somebody else than the plan.
CREATE TRIGGER replan_asked AFTER UPDATE OF wait_reason ON journeys
  WHEN NEW.wait_reason IS NOT OLD.wait_reason
    AND ('merge_field_empty' IN (NEW.wait_reason, OLD.wait_reason) OR 'text_broken' IN (NEW.wait_reason, OLD.wait_reason)
      OR 'likely_reply' IN (NEW.wait_reason, OLD.wait_reason) OR 'no_mailbox' IN (NEW.wait_reason, OLD.wait_reason)
      OR 'refused_for_now' IN (NEW.wait_reason, OLD.wait_reason)) BEGIN
  INSERT OR IGNORE INTO replan VALUES (NEW.id);
END;
CREATE TRIGGER replan_touch_made AFTER INSERT ON touches BEGIN
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = NEW.prospect_id AND state = 'active';
END;
CREATE TRIGGER replan_touch_changed AFTER UPDATE OF state, undecided_at ON touches
  WHEN NEW.state IS NOT OLD.state OR NEW.undecided_at IS NOT OLD.undecided_at BEGIN
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = NEW.prospect_id AND state = 'active';
END;
CREATE TRIGGER replan_touch_gone AFTER DELETE ON touches BEGIN
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = OLD.prospect_id AND state = 'active';
END;
CREATE TRIGGER replan_people
  AFTER UPDATE OF email, verdict, time_zone, country, profile, company_id, company, first_name, last_name, title, city, phone, custom ON prospects
  BEGIN
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = NEW.id AND state = 'active';
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

-- ── Ramp exchange: mail between the workspace's own mailboxes, kept apart from everything else ──
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

-- Counts up with each change of the recorded plan, so that open pages know.
CREATE TABLE plan_revision (number INTEGER NOT NULL) STRICT;
INSERT INTO plan_revision VALUES (0);
