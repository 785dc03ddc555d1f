-- Trust: who may, what is uncertain after a restore, what failed, what strangers asked for.

-- ── What failed in a process besides what it was asked for (server/db/failures.ts) ──
CREATE TABLE failures (
  kind TEXT NOT NULL,
  name TEXT NOT NULL,
  count INTEGER NOT NULL,
  last_wall INTEGER NOT NULL,
  words TEXT NOT NULL,
  PRIMARY KEY (kind, name)
) STRICT, WITHOUT ROWID;

-- ── Mailboxes: copies that cannot be stored, folders that came later, people whom a host refuses ──
ALTER TABLE mailboxes ADD COLUMN copy_trouble TEXT;
ALTER TABLE mailboxes ADD COLUMN copy_retry_wall INTEGER;
-- Which folders a mailbox was seen to have, and whether at its first look: what came later is read from its beginning.
CREATE TABLE seen_folders (
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id) ON DELETE CASCADE,
  path TEXT NOT NULL,
  is_first INTEGER NOT NULL CHECK (is_first IN (0, 1)),
  PRIMARY KEY (mailbox_id, path)
) STRICT, WITHOUT ROWID;
-- The first refusal of an address by a host's rules: a second one, while others pass, is about that person only.
CREATE TABLE refusals (
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id) ON DELETE CASCADE,
  recipient TEXT NOT NULL,
  at INTEGER NOT NULL,
  words TEXT NOT NULL,
  PRIMARY KEY (mailbox_id, recipient)
) STRICT, WITHOUT ROWID;

-- ── Holds gain two reasons: a host refuses this person's email; it may have left before a restore ──
CREATE TABLE holds_new (
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

-- ── Whose lists, filters, pieces and profiles are, and who may use or change them (core/team/may.ts) ──
ALTER TABLE lists ADD COLUMN owner_id INTEGER REFERENCES users (id);
ALTER TABLE lists ADD COLUMN sharing TEXT NOT NULL DEFAULT 'use' CHECK (sharing IN ('mine', 'use', 'change'));
-- What exists belongs to whoever made it, as far as that was written down; else to the managers.
UPDATE lists SET owner_id = coalesce(
  (SELECT user_id FROM imports i WHERE i.list_id = lists.id AND i.user_id IS NOT NULL ORDER BY i.id LIMIT 1),
  (SELECT user_id FROM forms f WHERE f.list_id = lists.id),
  (SELECT user_id FROM sequences s WHERE s.list_id = lists.id ORDER BY s.id LIMIT 1));
ALTER TABLE filters ADD COLUMN sharing TEXT NOT NULL DEFAULT 'use' CHECK (sharing IN ('mine', 'use', 'change'));
ALTER TABLE pieces ADD COLUMN sharing TEXT NOT NULL DEFAULT 'use' CHECK (sharing IN ('mine', 'use', 'change'));
ALTER TABLE profiles ADD COLUMN sharing TEXT NOT NULL DEFAULT 'use' CHECK (sharing IN ('mine', 'use', 'change'));

-- ── Which fields of the team's own a web form asks for: an entry brings no others. Those that came so far are its own ──
ALTER TABLE forms ADD COLUMN fields TEXT NOT NULL DEFAULT '[]';
UPDATE forms SET fields = (SELECT json_group_array(DISTINCT c.key) FROM prospects p, json_each(p.custom) c
  WHERE p.origin = 'form' AND p.origin_id = forms.list_id);

-- ── After a restore, a lost log or a clock that jumped: what may have left meanwhile is read before anything is sent ──
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

-- ── Strangers who chose a time: it is kept for a while, until they confirm by the link that was sent to the typed address ──
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

-- ── Calendars: failures in a row, for how long to leave one alone ──
ALTER TABLE calendars ADD COLUMN failures INTEGER NOT NULL DEFAULT 0;
