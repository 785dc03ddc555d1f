-- One door: why an email came back is a column of its own, and who paused what is kept.

ALTER TABLE events ADD COLUMN bounce TEXT CHECK (bounce IN ('hard', 'policy', 'soft'));
DROP TRIGGER events_stay;
UPDATE events SET bounce = substr(detail, 1, instr(detail, ':') - 1), detail = substr(detail, instr(detail, ':') + 2)
  WHERE kind = 'bounced' AND (detail LIKE 'hard: %' OR detail LIKE 'policy: %' OR detail LIKE 'soft: %');
CREATE TRIGGER events_stay BEFORE UPDATE ON events
  WHEN NEW.id IS NOT OLD.id OR NEW.at IS NOT OLD.at OR NEW.kind IS NOT OLD.kind OR NEW.bounce IS NOT OLD.bounce
    OR NEW.journey_id IS NOT OLD.journey_id OR NEW.touch_id IS NOT OLD.touch_id
    OR NEW.mailbox_id IS NOT OLD.mailbox_id OR NEW.reply_id IS NOT OLD.reply_id
    OR NEW.user_id IS NOT OLD.user_id OR (NEW.detail IS NOT OLD.detail AND NEW.detail IS NOT NULL)
  BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;

-- Whatever is paused says so itself (a sequence's state, a mailbox's, an account's, the hold of a journey); who did it, and when, stands here.
CREATE TABLE pauses (
  id INTEGER PRIMARY KEY,
  of TEXT NOT NULL CHECK (of IN ('sequence', 'mailbox', 'account', 'journey')),
  of_id INTEGER NOT NULL,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL,
  ended_at INTEGER,
  ended_by INTEGER REFERENCES users (id)
) STRICT;
CREATE UNIQUE INDEX pauses_on ON pauses (of, of_id) WHERE ended_at IS NULL;
INSERT INTO pauses (of, of_id, at) SELECT 'journey', scope_id, since FROM holds WHERE scope = 'journey' AND reason = 'paused_by_rep';
