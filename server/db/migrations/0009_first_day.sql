-- A company's size may be a range, and open above: 51 to 200, 1,000 and more (then employees_to is NULL).
ALTER TABLE companies ADD COLUMN employees_to INTEGER;
UPDATE companies SET employees_to = employees;

-- The known addresses of a domain, from which its pattern is learned.
CREATE INDEX prospects_by_address_domain ON prospects (substr(email, instr(email, '@') + 1)) WHERE email IS NOT NULL;
