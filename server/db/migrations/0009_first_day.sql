-- A company's size may be a range, and open above: 51 to 200, 1,000 and more (then employees_to is NULL).
ALTER TABLE companies ADD COLUMN employees_to INTEGER;
UPDATE companies SET employees_to = employees;

-- The known addresses of a domain, from which its pattern is learned.
CREATE INDEX prospects_by_address_domain ON prospects (substr(email, instr(email, '@') + 1)) WHERE email IS NOT NULL;

-- More than labels can be taken back: merges, blocks, deleted lists.
ALTER TABLE undo_records ADD COLUMN kind TEXT NOT NULL DEFAULT 'label';
ALTER TABLE undo_records ADD COLUMN about TEXT NOT NULL DEFAULT '[]';
CREATE INDEX undo_by_user ON undo_records (user_id, at) WHERE undone_at IS NULL;

-- What is said of an address needs the verdict's reason, too: nothing speaks against it, or something does.
DROP INDEX prospects_states;
CREATE INDEX prospects_states ON prospects (id, verdict, verdict_reason, email IS NULL);
