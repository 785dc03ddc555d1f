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
