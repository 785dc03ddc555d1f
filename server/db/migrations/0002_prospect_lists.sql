-- Prospects may lack an address, hidden ones stay as a pointer (merged) or a husk (erased), and
-- everything that changes them is kept. Foreign keys are off while a migration runs and checked after it.

CREATE TABLE companies_new (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  -- Null where only the name is known.
  domain TEXT UNIQUE,
  industry TEXT NOT NULL DEFAULT '',
  employees INTEGER,
  region TEXT NOT NULL DEFAULT '',
  about TEXT NOT NULL DEFAULT '',
  -- A second name of this company; its domain still leads here.
  merged_into INTEGER REFERENCES companies (id)
) STRICT;
INSERT INTO companies_new (id, name, domain) SELECT id, name, domain FROM companies;
DROP TABLE companies;
ALTER TABLE companies_new RENAME TO companies;
CREATE INDEX companies_by_name ON companies (name);

CREATE TABLE prospects_new (
  -- A number is never given again, or what remembers somebody who is gone would mean another.
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  -- Null: no address is known.
  email TEXT UNIQUE,
  first_name TEXT NOT NULL DEFAULT '',
  last_name TEXT NOT NULL DEFAULT '',
  company_id INTEGER REFERENCES companies (id),
  -- A copy of the company's name, kept by the trigger below: the page sorts and filters 100,000 rows by it.
  company TEXT NOT NULL DEFAULT '',
  title TEXT NOT NULL DEFAULT '',
  city TEXT NOT NULL DEFAULT '',
  country TEXT NOT NULL DEFAULT '',
  time_zone TEXT,
  -- E.164.
  phone TEXT NOT NULL DEFAULT '',
  profile TEXT NOT NULL DEFAULT '',
  -- Name, company and address in lines, folded (core/fold.ts): what a search looks at. Kept by a trigger.
  found_by TEXT NOT NULL DEFAULT '',
  stage TEXT NOT NULL DEFAULT 'new'
    CHECK (stage IN ('new', 'contacted', 'in_conversation', 'meeting_booked', 'won', 'lost')),
  owner_id INTEGER REFERENCES users (id),
  custom TEXT NOT NULL DEFAULT '{}',
  verdict TEXT CHECK (verdict IN ('good', 'risky', 'bad', 'unknown')),
  verdict_reason TEXT,
  verdict_detail TEXT NOT NULL DEFAULT '',
  verdict_at INTEGER,
  -- Where they came from; origin_id is the import's, search's or list's.
  origin TEXT NOT NULL DEFAULT 'import' CHECK (origin IN ('import', 'directory', 'typed', 'form')),
  origin_id INTEGER,
  merged_into INTEGER REFERENCES prospects (id),
  erased_at INTEGER,
  -- 1 while neither merged nor erased: what every page shows.
  live INTEGER NOT NULL GENERATED ALWAYS AS (merged_into IS NULL AND erased_at IS NULL) STORED,
  created_at INTEGER NOT NULL
) STRICT;
-- An email's address is kept with it: the prospect's may be another by the time it bounces or is answered.
ALTER TABLE touches ADD COLUMN recipient TEXT NOT NULL DEFAULT '';
UPDATE touches SET recipient = (SELECT email FROM prospects WHERE id = prospect_id);
-- Where an answer goes: Reply-To, else From (RFC 5322 3.6.2).
ALTER TABLE replies ADD COLUMN answer_to TEXT NOT NULL DEFAULT '';
UPDATE replies SET answer_to = from_address;
INSERT INTO prospects_new (id, email, first_name, last_name, company_id, company, title, city, country, time_zone,
    stage, custom, origin_id, created_at)
  SELECT p.id, p.email, p.first_name, p.last_name, p.company_id, coalesce(c.name, ''), p.title, p.city, p.country,
    p.time_zone, p.stage, p.custom, p.import_id, p.created_at
  FROM prospects p LEFT JOIN companies c ON c.id = p.company_id;
DROP TABLE prospects;
ALTER TABLE prospects_new RENAME TO prospects;
-- The sorts of the Prospects page, and its counts.
CREATE INDEX prospects_by_name ON prospects (last_name, first_name, id) WHERE live = 1;
CREATE INDEX prospects_by_company ON prospects (company, id) WHERE live = 1;
CREATE INDEX prospects_by_stage ON prospects (stage, id) WHERE live = 1;
CREATE INDEX prospects_by_verdict ON prospects (verdict, id) WHERE live = 1;
-- Blocks of a whole domain.
CREATE INDEX prospects_by_domain ON prospects (substr(email, instr(email, '@') + 1));
-- How a list's addresses stand, without reading whole rows.
CREATE INDEX prospects_states ON prospects (id, verdict, email IS NULL);
CREATE INDEX prospects_of_company ON prospects (company_id);
-- Who came through a form. An import finds its people by going through everybody, which it does once.
CREATE INDEX prospects_of_form ON prospects (origin_id) WHERE origin = 'form';
CREATE INDEX prospects_merged ON prospects (merged_into) WHERE merged_into IS NOT NULL;
CREATE TRIGGER prospects_renamed AFTER UPDATE OF first_name, last_name, company, email ON prospects BEGIN
  UPDATE prospects SET found_by =
    fold(first_name || ' ' || last_name || char(10) || company || char(10) || coalesce(email, '')) WHERE id = NEW.id;
END;
UPDATE prospects SET company = company;
CREATE TRIGGER companies_renamed AFTER UPDATE OF name ON companies WHEN OLD.name IS NOT NEW.name BEGIN
  UPDATE prospects SET company = NEW.name WHERE company_id = NEW.id;
END;

ALTER TABLE imports ADD COLUMN list_id INTEGER REFERENCES lists (id) ON DELETE SET NULL;
ALTER TABLE imports ADD COLUMN state TEXT NOT NULL DEFAULT 'done'
  CHECK (state IN ('columns', 'looking', 'ready', 'importing', 'done', 'undone', 'failed'));
-- How its columns are used and what known people keep (JSON), and what came of it (JSON).
ALTER TABLE imports ADD COLUMN settings TEXT NOT NULL DEFAULT '{}';
ALTER TABLE imports ADD COLUMN report TEXT NOT NULL DEFAULT '{}';
-- Rows of the file that are stored already, so that a killed import goes on from there.
ALTER TABLE imports ADD COLUMN stored INTEGER NOT NULL DEFAULT 0;
ALTER TABLE imports ADD COLUMN problem TEXT;

-- Rows that a person should see: left out, repeated, or of somebody who is known.
CREATE TABLE import_rows (
  import_id INTEGER NOT NULL REFERENCES imports (id) ON DELETE CASCADE,
  line INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('refused', 'repeated', 'known', 'flagged')),
  prospect_id INTEGER,
  -- A reason, or for the known the fields with their old and new values (JSON).
  detail TEXT NOT NULL,
  PRIMARY KEY (import_id, kind, line)
) STRICT, WITHOUT ROWID;

-- The names of all fields of the lists' own, which a filter offers without reading everybody.
CREATE TABLE custom_fields (name TEXT PRIMARY KEY) STRICT, WITHOUT ROWID;
INSERT INTO custom_fields SELECT DISTINCT j.key FROM prospects p, json_each(p.custom) j;

-- What a header was used for when it was last imported.
CREATE TABLE column_uses (header TEXT PRIMARY KEY, use TEXT NOT NULL) STRICT, WITHOUT ROWID;

ALTER TABLE list_prospects ADD COLUMN import_id INTEGER REFERENCES imports (id);
-- A deleted list's number is never given again: what remembers it must not mean another list.
CREATE TABLE lists_new (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  name TEXT NOT NULL UNIQUE,
  profile_id INTEGER REFERENCES profiles (id) ON DELETE SET NULL,
  created_at INTEGER NOT NULL
) STRICT;
INSERT INTO lists_new (id, name, created_at) SELECT id, name, created_at FROM lists;
DROP TABLE lists;
ALTER TABLE lists_new RENAME TO lists;

-- Counts up whenever an address or its verdict changes or somebody leaves a list, so that what was counted
-- of a list of 100,000 can be kept until it is no longer true (server/prospects/lists/list-state.ts).
CREATE TABLE address_revision (number INTEGER NOT NULL) STRICT;
INSERT INTO address_revision VALUES (0);
CREATE TRIGGER addresses_changed AFTER UPDATE OF email, verdict ON prospects BEGIN
  UPDATE address_revision SET number = number + 1;
END;
CREATE TRIGGER list_left AFTER DELETE ON list_prospects BEGIN
  UPDATE address_revision SET number = number + 1;
END;

CREATE TABLE profiles (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  description TEXT NOT NULL DEFAULT '',
  definition TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  saved_at INTEGER NOT NULL
) STRICT;

-- Work that takes longer than a page: done by the worker process, taken up again after a crash.
CREATE TABLE jobs (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('look_through', 'import', 'search', 'verify', 'find_addresses', 'duplicates')),
  input TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  state TEXT NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'working', 'done', 'failed', 'cancelled')),
  done INTEGER NOT NULL DEFAULT 0,
  total INTEGER NOT NULL DEFAULT 0,
  problem TEXT,
  asked_at INTEGER NOT NULL,
  not_before INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX jobs_open ON jobs (state, id) WHERE state IN ('waiting', 'working');

CREATE TABLE searches (
  id INTEGER PRIMARY KEY,
  profile_id INTEGER REFERENCES profiles (id) ON DELETE SET NULL,
  profile_name TEXT NOT NULL,
  -- The profile as it was.
  definition TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  job_id INTEGER REFERENCES jobs (id),
  -- The directory's next page; null once all are read.
  next_page INTEGER DEFAULT 1,
  at INTEGER NOT NULL
) STRICT;

CREATE TABLE found_people (
  id INTEGER PRIMARY KEY,
  search_id INTEGER NOT NULL REFERENCES searches (id) ON DELETE CASCADE,
  reference TEXT NOT NULL,
  -- As the directory has them, and cleaned (JSON).
  raw TEXT NOT NULL,
  fields TEXT NOT NULL,
  name TEXT NOT NULL,
  fits INTEGER NOT NULL CHECK (fits IN (0, 1)),
  reason TEXT,
  detail TEXT NOT NULL DEFAULT '',
  known_id INTEGER REFERENCES prospects (id),
  kept_id INTEGER REFERENCES prospects (id),
  UNIQUE (search_id, reference)
) STRICT;
CREATE INDEX found_people_by_fit ON found_people (search_id, fits, id);

-- Every later change of a prospect's field: by whom, from where, from what to what.
CREATE TABLE changes (
  id INTEGER PRIMARY KEY,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE,
  field TEXT NOT NULL,
  before TEXT NOT NULL,
  after TEXT NOT NULL,
  source TEXT NOT NULL CHECK (source IN ('import', 'directory', 'form', 'edit', 'bulk', 'pattern', 'merge', 'undo')),
  -- The import's id, or the number that the changes of one bulk edit share.
  source_id INTEGER,
  detail TEXT NOT NULL DEFAULT '',
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL
) STRICT;
CREATE INDEX changes_by_prospect ON changes (prospect_id, id);
CREATE INDEX changes_by_source ON changes (source, source_id);

-- What cleaning made of somebody's fields; one row a person, since an import writes 100,000 of them.
CREATE TABLE cleanings (
  prospect_id INTEGER PRIMARY KEY REFERENCES prospects (id) ON DELETE CASCADE,
  -- [{"field", "original", "cleaned", "rules": [], "refused": []}]
  fields TEXT NOT NULL,
  -- The rules that worked and those that were refused, one word for each time, for counting.
  rules TEXT NOT NULL,
  refused TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE duplicates (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('person', 'company')),
  a_id INTEGER NOT NULL,
  b_id INTEGER NOT NULL,
  reason TEXT NOT NULL,
  state TEXT NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'merged', 'apart')),
  by_rule INTEGER NOT NULL DEFAULT 0,
  at INTEGER NOT NULL,
  UNIQUE (kind, a_id, b_id)
) STRICT;
CREATE INDEX duplicates_open ON duplicates (state, id);

CREATE TABLE filters (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  definition TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  saved_at INTEGER NOT NULL
) STRICT;

CREATE TABLE notes (
  id INTEGER PRIMARY KEY,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES users (id),
  text TEXT NOT NULL,
  at INTEGER NOT NULL
) STRICT;
CREATE INDEX notes_by_prospect ON notes (prospect_id, at);

-- A form on somebody's web site whose entries land on a list.
CREATE TABLE forms (
  list_id INTEGER PRIMARY KEY REFERENCES lists (id) ON DELETE CASCADE,
  token TEXT NOT NULL UNIQUE,
  sequence_id INTEGER REFERENCES sequences (id) ON DELETE SET NULL,
  user_id INTEGER REFERENCES users (id),
  made_at INTEGER NOT NULL
) STRICT;

ALTER TABLE block_list ADD COLUMN note TEXT NOT NULL DEFAULT '';
ALTER TABLE block_list ADD COLUMN user_id INTEGER REFERENCES users (id);
CREATE TABLE block_removals (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL,
  value TEXT NOT NULL,
  reason TEXT NOT NULL,
  why TEXT NOT NULL,
  user_id INTEGER REFERENCES users (id),
  at INTEGER NOT NULL
) STRICT;

-- HMAC-SHA-256 of addresses that were erased for good; nobody can read them back.
CREATE TABLE erased_addresses (hash TEXT PRIMARY KEY, at INTEGER NOT NULL) STRICT, WITHOUT ROWID;

CREATE TABLE settings (name TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT, WITHOUT ROWID;

ALTER TABLE sequences ADD COLUMN writes_to TEXT NOT NULL DEFAULT 'good' CHECK (writes_to IN ('good', 'risky', 'any'));
-- What runs already goes on as it did; nobody's address was verified before.
UPDATE sequences SET writes_to = 'any' WHERE state != 'draft';

-- Events stay, but for two things: a merged person's move to the one that remains, and an erased
-- person's words go.
DROP TRIGGER events_stay;
CREATE TRIGGER events_stay BEFORE UPDATE ON events
  WHEN NEW.id IS NOT OLD.id OR NEW.at IS NOT OLD.at OR NEW.kind IS NOT OLD.kind
    OR NEW.journey_id IS NOT OLD.journey_id OR NEW.touch_id IS NOT OLD.touch_id
    OR NEW.mailbox_id IS NOT OLD.mailbox_id OR NEW.reply_id IS NOT OLD.reply_id
    OR NEW.user_id IS NOT OLD.user_id OR (NEW.detail IS NOT OLD.detail AND NEW.detail IS NOT NULL)
  BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
