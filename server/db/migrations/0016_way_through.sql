-- One person of a company that a colleague's answer holds may be let go on, while the others wait.
CREATE TABLE let_go (
  hold_id INTEGER NOT NULL REFERENCES holds (id) ON DELETE CASCADE,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE,
  at INTEGER NOT NULL,
  PRIMARY KEY (hold_id, prospect_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX let_go_of_prospect ON let_go (prospect_id);
CREATE TRIGGER let_go_on AFTER INSERT ON let_go BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE prospect_id = NEW.prospect_id AND state = 'active';
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = NEW.prospect_id AND state = 'active';
END;
CREATE TRIGGER let_go_ends AFTER DELETE ON let_go BEGIN
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = OLD.prospect_id AND state = 'active';
END;

-- When somebody's journey stood still is asked with every step that it comes to.
CREATE INDEX pauses_of ON pauses (of, of_id);

-- What was paused keeps its time: when it goes on, everything that was waited for is counted anew.
CREATE TRIGGER reconsider_resumed AFTER UPDATE OF ended_at ON pauses WHEN NEW.ended_at IS NOT NULL BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE state = 'active' AND (
    (NEW.of = 'journey' AND id = NEW.of_id) OR (NEW.of = 'sequence' AND sequence_id = NEW.of_id)
    OR (NEW.of = 'mailbox' AND mailbox_id = NEW.of_id)
    OR (NEW.of = 'account' AND sequence_id IN (SELECT id FROM sequences WHERE json_extract(settings, '$.accountId') = NEW.of_id)));
END;

-- A sequence may write to likely addresses without writing to doubtful ones.
ALTER TABLE sequences ADD COLUMN asks TEXT NOT NULL DEFAULT 'likely' CHECK (asks IN ('good', 'likely', 'doubtful', 'any'));
UPDATE sequences SET asks = CASE writes_to WHEN 'risky' THEN 'doubtful' ELSE writes_to END;
ALTER TABLE sequences DROP COLUMN writes_to;
ALTER TABLE sequences RENAME COLUMN asks TO writes_to;
-- What they wait for is said in the words for addresses.
INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE state = 'active' AND wait_reason = 'address_not_good';
