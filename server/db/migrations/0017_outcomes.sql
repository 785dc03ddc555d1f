-- What came of every start and every touch, kept beside the events it follows from, so that no page has to read these.
-- The views are the definition; their rows are copied for whom something happened, and by a rebuild for all.

-- The team says which labels count as "wants to talk".
ALTER TABLE labels ADD COLUMN is_positive INTEGER NOT NULL DEFAULT 0 CHECK (is_positive IN (0, 1));
UPDATE labels SET is_positive = 1 WHERE key = 'interested';

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
  clicked_at INTEGER,
  PRIMARY KEY (sequence_id, journey_id)
) STRICT, WITHOUT ROWID;

-- Counts every change of a sequence's outcomes: what was summed of them holds until then.
CREATE TABLE outcome_revisions (sequence_id INTEGER PRIMARY KEY, number INTEGER NOT NULL) STRICT;
CREATE TRIGGER outcomes_changed AFTER INSERT ON journey_outcomes BEGIN
  INSERT INTO outcome_revisions VALUES (NEW.sequence_id, 1) ON CONFLICT DO UPDATE SET number = number + 1;
END;
CREATE TRIGGER outcomes_gone AFTER DELETE ON journey_outcomes BEGIN
  INSERT INTO outcome_revisions VALUES (OLD.sequence_id, 1) ON CONFLICT DO UPDATE SET number = number + 1;
END;

-- With the instant, what is asked of a journey's or a touch's events is answered without reading their rows.
DROP INDEX events_by_journey;
CREATE INDEX events_by_journey ON events (journey_id, kind, at, touch_id);
DROP INDEX events_by_touch;
CREATE INDEX events_by_touch ON events (touch_id, kind, at) WHERE touch_id IS NOT NULL;

-- An answer that names no journey, since it answers a letter outside of it, belongs to the one that had started last.
DROP TRIGGER events_stay;
UPDATE events SET journey_id = (SELECT j.id FROM journeys j
    WHERE j.prospect_id = events.prospect_id AND j.started_at <= events.at ORDER BY j.started_at DESC, j.id DESC LIMIT 1)
  WHERE journey_id IS NULL AND prospect_id IS NOT NULL
    AND kind IN ('replied', 'opted_out', 'complained', 'booked', 'booking_cancelled');
CREATE TRIGGER events_stay BEFORE UPDATE ON events
  WHEN NEW.id IS NOT OLD.id OR NEW.at IS NOT OLD.at OR NEW.kind IS NOT OLD.kind OR NEW.bounce IS NOT OLD.bounce
    OR NEW.journey_id IS NOT OLD.journey_id OR NEW.touch_id IS NOT OLD.touch_id
    OR NEW.mailbox_id IS NOT OLD.mailbox_id OR NEW.reply_id IS NOT OLD.reply_id
    OR NEW.user_id IS NOT OLD.user_id OR (NEW.detail IS NOT OLD.detail AND NEW.detail IS NOT NULL)
  BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;

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

-- Over touch_outcomes, which has to be as it is now for the journey in question.
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
  (SELECT min(t.clicked_at) FROM touch_outcomes t WHERE t.sequence_id = j.sequence_id AND t.journey_id = j.id) AS clicked_at
FROM journeys j;

-- Whose outcomes are to be made anew: whoever writes notes no more than that, and whoever reads makes them first
-- (server/db/outcomes.ts).
CREATE TABLE outcomes_due (journey_id INTEGER PRIMARY KEY) STRICT;

CREATE TRIGGER outcome_begins AFTER INSERT ON journeys BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.id);
END;
CREATE TRIGGER outcome_ends AFTER UPDATE OF state, version, ended_at, started_at ON journeys
  WHEN (NEW.state, NEW.version, NEW.ended_at, NEW.started_at) IS NOT (OLD.state, OLD.version, OLD.ended_at, OLD.started_at) BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.id);
END;
CREATE TRIGGER outcome_moves AFTER UPDATE OF sequence_id ON journeys WHEN NEW.sequence_id IS NOT OLD.sequence_id BEGIN
  DELETE FROM touch_outcomes WHERE sequence_id = OLD.sequence_id AND journey_id = NEW.id;
  DELETE FROM journey_outcomes WHERE sequence_id = OLD.sequence_id AND journey_id = NEW.id;
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.id);
END;
CREATE TRIGGER outcome_goes AFTER DELETE ON journeys BEGIN
  DELETE FROM touch_outcomes WHERE sequence_id = OLD.sequence_id AND journey_id = OLD.id;
  DELETE FROM journey_outcomes WHERE sequence_id = OLD.sequence_id AND journey_id = OLD.id;
END;

CREATE TRIGGER outcome_of_touch AFTER UPDATE OF state, outcome, sent_at, ended_at, mailbox_id, journey_id ON touches
  WHEN NEW.journey_id IS NOT NULL AND (NEW.state IN ('sent', 'done', 'refused') OR OLD.state IN ('sent', 'done', 'refused'))
    AND (NEW.state, NEW.outcome, NEW.sent_at, NEW.ended_at, NEW.mailbox_id, NEW.journey_id)
      IS NOT (OLD.state, OLD.outcome, OLD.sent_at, OLD.ended_at, OLD.mailbox_id, OLD.journey_id) BEGIN
  INSERT OR IGNORE INTO outcomes_due SELECT NEW.journey_id UNION SELECT OLD.journey_id WHERE OLD.journey_id IS NOT NULL;
END;
CREATE TRIGGER outcome_of_new_touch AFTER INSERT ON touches WHEN NEW.journey_id IS NOT NULL AND NEW.state IN ('sent', 'done', 'refused') BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.journey_id);
END;
CREATE TRIGGER outcome_of_gone_touch AFTER DELETE ON touches WHEN OLD.journey_id IS NOT NULL AND OLD.state IN ('sent', 'done', 'refused') BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (OLD.journey_id);
END;

CREATE TRIGGER outcome_of_event AFTER INSERT ON events
  WHEN NEW.kind IN ('opened', 'clicked', 'replied', 'bounced', 'opted_out', 'complained', 'booked', 'booking_cancelled') BEGIN
  INSERT OR IGNORE INTO outcomes_due SELECT NEW.journey_id WHERE NEW.journey_id IS NOT NULL
    UNION SELECT journey_id FROM touches WHERE id = NEW.touch_id AND journey_id IS NOT NULL;
END;

CREATE TRIGGER outcome_of_label AFTER UPDATE OF label_id ON replies WHEN NEW.label_id IS NOT OLD.label_id BEGIN
  INSERT OR IGNORE INTO outcomes_due
    SELECT journey_id FROM events WHERE prospect_id = NEW.prospect_id AND kind = 'replied' AND journey_id IS NOT NULL;
END;
CREATE TRIGGER outcome_of_gone_reply AFTER DELETE ON replies WHEN OLD.label_id IS NOT NULL BEGIN
  INSERT OR IGNORE INTO outcomes_due
    SELECT journey_id FROM events WHERE prospect_id = OLD.prospect_id AND kind = 'replied' AND journey_id IS NOT NULL;
END;
CREATE TRIGGER outcomes_of_labels AFTER UPDATE OF is_positive ON labels WHEN NEW.is_positive IS NOT OLD.is_positive BEGIN
  INSERT OR IGNORE INTO outcomes_due
    SELECT e.journey_id FROM replies r JOIN events e ON e.prospect_id = r.prospect_id AND e.kind = 'replied'
    WHERE r.label_id = NEW.id AND e.journey_id IS NOT NULL;
END;

INSERT INTO touch_outcomes SELECT * FROM touch_outcomes_now;
INSERT INTO journey_outcomes SELECT * FROM journey_outcomes_now;

-- Findings that somebody does not want to hear of again, by sequence.
CREATE TABLE findings_set_aside (
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (user_id, sequence_id, key)
) STRICT, WITHOUT ROWID;

-- The next touch of each sequence.
CREATE INDEX journeys_next ON journeys (sequence_id, next_at) WHERE state = 'active' AND next_at IS NOT NULL;
CREATE INDEX journey_outcomes_by_start ON journey_outcomes (started_at, written_at, reached_at, answered_at, positive_at, booked_at);
CREATE INDEX touch_outcomes_by_sender ON touch_outcomes (mailbox_id, at, reached_at, bounced_at, answered_at) WHERE mailbox_id IS NOT NULL;

-- What loaded an email's picture or followed its links, and whom it is taken for (core/replies/loads.ts). An event is made of
-- what is taken for a person, a little later: only what comes beside it tells a machine.
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
