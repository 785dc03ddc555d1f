-- Files that go as a link to a viewer (server/pages/file-looks.ts): how they are locked, and what each person looked at.

-- Its password, hashed; "" for none. Days after which its link ends; null: it does not.
ALTER TABLE files ADD COLUMN lock TEXT NOT NULL DEFAULT '';
ALTER TABLE files ADD COLUMN days INTEGER;

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

-- Counts the times that a page was saved: what is older is not saved over it.
ALTER TABLE page_templates ADD COLUMN revision INTEGER NOT NULL DEFAULT 1;

-- Events gain a kind; they stay append-only, but for a merge and an erasure. Views read the table meanwhile (legacy_alter_table).
PRAGMA legacy_alter_table = ON;
CREATE TABLE events_new (
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
INSERT INTO events_new SELECT id, at, kind, prospect_id, journey_id, touch_id, mailbox_id, reply_id, user_id, detail, bounce FROM events;
DROP TABLE events;
ALTER TABLE events_new RENAME TO events;
PRAGMA legacy_alter_table = OFF;
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
