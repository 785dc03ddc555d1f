-- What happened within a week is found by when it did, whoever it happened to; the sequence is part of each.
CREATE INDEX journey_outcomes_written ON journey_outcomes (written_at) WHERE written_at IS NOT NULL;
CREATE INDEX journey_outcomes_answered ON journey_outcomes (answered_at) WHERE answered_at IS NOT NULL;
CREATE INDEX journey_outcomes_positive ON journey_outcomes (positive_at) WHERE positive_at IS NOT NULL;
CREATE INDEX journey_outcomes_opted_out ON journey_outcomes (opted_out_at) WHERE opted_out_at IS NOT NULL;
CREATE INDEX journey_outcomes_bounced ON journey_outcomes (bounced_at) WHERE bounced_at IS NOT NULL;

-- Without a union or a list of more than two, for each of which every writer would make a table of its own.
DROP TRIGGER outcome_of_touch;
CREATE TRIGGER outcome_of_touch AFTER UPDATE OF state, outcome, sent_at, ended_at, mailbox_id, journey_id ON touches
  WHEN NEW.journey_id IS NOT NULL
    AND (NEW.state = 'sent' OR NEW.state = 'done' OR NEW.state = 'refused' OR OLD.state = 'sent' OR OLD.state = 'done' OR OLD.state = 'refused')
    AND (NEW.state IS NOT OLD.state OR NEW.outcome IS NOT OLD.outcome OR NEW.sent_at IS NOT OLD.sent_at OR NEW.ended_at IS NOT OLD.ended_at
      OR NEW.mailbox_id IS NOT OLD.mailbox_id OR NEW.journey_id IS NOT OLD.journey_id) BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.journey_id);
END;
CREATE TRIGGER outcome_of_moved_touch AFTER UPDATE OF journey_id ON touches
  WHEN OLD.journey_id IS NOT NULL AND NEW.journey_id IS NOT OLD.journey_id
    AND (OLD.state = 'sent' OR OLD.state = 'done' OR OLD.state = 'refused') BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (OLD.journey_id);
END;
DROP TRIGGER outcome_of_new_touch;
CREATE TRIGGER outcome_of_new_touch AFTER INSERT ON touches
  WHEN NEW.journey_id IS NOT NULL AND (NEW.state = 'sent' OR NEW.state = 'done' OR NEW.state = 'refused') BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.journey_id);
END;
DROP TRIGGER outcome_of_event;
CREATE TRIGGER outcome_of_event AFTER INSERT ON events
  WHEN NEW.journey_id IS NOT NULL AND (NEW.kind = 'opened' OR NEW.kind = 'clicked' OR NEW.kind = 'replied' OR NEW.kind = 'bounced'
    OR NEW.kind = 'opted_out' OR NEW.kind = 'complained' OR NEW.kind = 'booked' OR NEW.kind = 'booking_cancelled') BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.journey_id);
END;
-- Where the event names no journey, or another than its touch.
CREATE TRIGGER outcome_of_events_touch AFTER INSERT ON events
  WHEN NEW.touch_id IS NOT NULL
    AND (NEW.kind = 'opened' OR NEW.kind = 'clicked' OR NEW.kind = 'replied' OR NEW.kind = 'bounced') BEGIN
  INSERT OR IGNORE INTO outcomes_due
    SELECT journey_id FROM touches WHERE id = NEW.touch_id AND journey_id IS NOT NULL AND journey_id IS NOT NEW.journey_id;
END;

-- Whom a look can be narrowed to stands beside what came of them: no look reads the people or their journeys.
ALTER TABLE journey_outcomes ADD COLUMN prospect_id INTEGER NOT NULL DEFAULT 0;
ALTER TABLE journey_outcomes ADD COLUMN mailbox_id INTEGER;
ALTER TABLE journey_outcomes ADD COLUMN country TEXT NOT NULL DEFAULT '';
ALTER TABLE journey_outcomes ADD COLUMN stage TEXT NOT NULL DEFAULT '';
UPDATE journey_outcomes SET (prospect_id, mailbox_id, country, stage) = (
  SELECT j.prospect_id, j.mailbox_id, p.country, p.stage FROM journeys j JOIN prospects p ON p.id = j.prospect_id WHERE j.id = journey_id);

DROP VIEW journey_outcomes_now;
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
  (SELECT min(t.clicked_at) FROM touch_outcomes t WHERE t.sequence_id = j.sequence_id AND t.journey_id = j.id) AS clicked_at,
  j.prospect_id, j.mailbox_id, p.country, p.stage
FROM journeys j JOIN prospects p ON p.id = j.prospect_id;

DROP TRIGGER outcome_ends;
CREATE TRIGGER outcome_ends AFTER UPDATE OF state, version, ended_at, started_at, prospect_id, mailbox_id ON journeys
  WHEN NEW.state IS NOT OLD.state OR NEW.version IS NOT OLD.version OR NEW.ended_at IS NOT OLD.ended_at OR NEW.started_at IS NOT OLD.started_at
    OR NEW.prospect_id IS NOT OLD.prospect_id OR NEW.mailbox_id IS NOT OLD.mailbox_id BEGIN
  INSERT OR IGNORE INTO outcomes_due VALUES (NEW.id);
END;
CREATE TRIGGER outcomes_of_person AFTER UPDATE OF country, stage ON prospects
  WHEN NEW.country IS NOT OLD.country OR NEW.stage IS NOT OLD.stage BEGIN
  INSERT OR IGNORE INTO outcomes_due SELECT id FROM journeys WHERE prospect_id = NEW.id;
END;
