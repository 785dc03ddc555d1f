-- A page for each prospect: made by a template, seen through a signed link, with a film.

-- Videos, kept as files beside the database (server/pages/films.ts); what is needed to show one stands here.
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

CREATE TABLE page_templates (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  -- As JSON (core/pages/template.ts).
  definition TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  sharing TEXT NOT NULL DEFAULT 'use' CHECK (sharing IN ('mine', 'use', 'change')),
  changed_at INTEGER NOT NULL,
  removed_at INTEGER
) STRICT;

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

-- Who asked for a page, until it is known whether that was a person (core/replies/loads.ts).
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

DROP TRIGGER replan_asked;
CREATE TRIGGER replan_asked AFTER UPDATE OF wait_reason ON journeys
  WHEN NEW.wait_reason IS NOT OLD.wait_reason
    AND ('merge_field_empty' IN (NEW.wait_reason, OLD.wait_reason) OR 'text_broken' IN (NEW.wait_reason, OLD.wait_reason)
      OR 'line_unread' IN (NEW.wait_reason, OLD.wait_reason) OR 'picture_unmade' IN (NEW.wait_reason, OLD.wait_reason)
      OR 'likely_reply' IN (NEW.wait_reason, OLD.wait_reason) OR 'no_mailbox' IN (NEW.wait_reason, OLD.wait_reason)
      OR 'refused_for_now' IN (NEW.wait_reason, OLD.wait_reason)) BEGIN
  INSERT OR IGNORE INTO replan VALUES (NEW.id);
END;

-- Events gain kinds; they stay append-only, but for a merge and an erasure. Views read the table meanwhile (legacy_alter_table).
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
    'page_visited', 'film_watched', 'file_opened', 'booking_begun'
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

CREATE TABLE jobs_new (
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
INSERT INTO jobs_new SELECT id, kind, input, user_id, state, done, total, problem, asked_at, not_before FROM jobs;
DROP TABLE jobs;
ALTER TABLE jobs_new RENAME TO jobs;
CREATE INDEX jobs_open ON jobs (state, id) WHERE state IN ('waiting', 'working');
