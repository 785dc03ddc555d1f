-- Columns of a list that are worked out: what a company's site says, what the writing assistant answers, a formula, an own
-- service. Defined once, put on any list; what was found is kept for its company, so that everybody has it.
CREATE TABLE columns (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  -- What texts call it; no other field is called so.
  code TEXT NOT NULL UNIQUE,
  kind TEXT NOT NULL CHECK (kind IN ('site', 'ask', 'formula', 'service')),
  gives TEXT NOT NULL CHECK (gives IN ('text', 'link', 'number', 'picture')),
  -- Whether everybody of a company has the same value.
  scope TEXT NOT NULL CHECK (scope IN ('company', 'person')),
  -- As JSON (core/research/column.ts).
  settings TEXT NOT NULL,
  -- A service's key (server/secrets.ts).
  key_sealed TEXT NOT NULL DEFAULT '',
  -- A value older than this is looked at anew when it is asked for.
  fresh_days INTEGER NOT NULL,
  user_id INTEGER REFERENCES users (id),
  made_at INTEGER NOT NULL
) STRICT;

CREATE TABLE list_columns (
  list_id INTEGER NOT NULL REFERENCES lists (id) ON DELETE CASCADE,
  column_id INTEGER NOT NULL REFERENCES columns (id) ON DELETE CASCADE,
  PRIMARY KEY (list_id, column_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX list_columns_by_column ON list_columns (column_id);

-- One time that a column is worked out for a list, with what it cost.
CREATE TABLE column_runs (
  id INTEGER PRIMARY KEY,
  column_id INTEGER NOT NULL REFERENCES columns (id) ON DELETE CASCADE,
  list_id INTEGER NOT NULL,
  wants TEXT NOT NULL CHECK (wants IN ('try', 'missing', 'old', 'all')),
  user_id INTEGER REFERENCES users (id),
  job_id INTEGER,
  at INTEGER NOT NULL,
  -- Whom a try chose, as a JSON array; null for the others.
  chosen TEXT,
  -- Sites read, questions asked, services asked; and what the assistant counted for its answers.
  asked INTEGER NOT NULL DEFAULT 0,
  tokens INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX column_runs_by_column ON column_runs (column_id, list_id, id);

CREATE TABLE column_values (
  id INTEGER PRIMARY KEY,
  column_id INTEGER NOT NULL REFERENCES columns (id),
  code TEXT NOT NULL,
  company_id INTEGER REFERENCES companies (id),
  prospect_id INTEGER REFERENCES prospects (id),
  state TEXT NOT NULL CHECK (state IN ('found', 'nothing', 'failed', 'refused')),
  value TEXT NOT NULL DEFAULT '',
  -- What was answered and not believed.
  said TEXT NOT NULL DEFAULT '',
  problem TEXT,
  source_url TEXT NOT NULL DEFAULT '',
  source_text TEXT NOT NULL DEFAULT '',
  sureness TEXT NOT NULL DEFAULT 'likely' CHECK (sureness IN ('sure', 'likely', 'doubtful')),
  -- Whoever typed it; null for what was found.
  typed_by INTEGER REFERENCES users (id),
  -- Null: the assistant wrote it, and nobody has read it.
  read_at INTEGER,
  run_id INTEGER,
  at INTEGER NOT NULL,
  CHECK ((company_id IS NULL) != (prospect_id IS NULL))
) STRICT;
CREATE UNIQUE INDEX column_values_of_company ON column_values (company_id, column_id) WHERE company_id IS NOT NULL;
CREATE UNIQUE INDEX column_values_of_person ON column_values (prospect_id, column_id) WHERE prospect_id IS NOT NULL;
CREATE INDEX column_values_by_column ON column_values (column_id);

-- What was read of web sites, shared by all columns.
CREATE TABLE sites (
  domain TEXT PRIMARY KEY,
  state TEXT NOT NULL CHECK (state IN ('read', 'failed')),
  problem TEXT,
  -- As JSON (core/research/site.ts); '{}' where nothing was read.
  reading TEXT NOT NULL DEFAULT '{}',
  at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- Pictures of columns, made anew from what was fetched. The name is what they hold: nobody guesses it.
CREATE TABLE pictures (
  name TEXT PRIMARY KEY,
  type TEXT NOT NULL,
  bytes BLOB NOT NULL,
  at INTEGER NOT NULL
) STRICT;

-- In which language pages are shown to them (ISO 639-1); '' is worked out from their replies, site and country.
ALTER TABLE prospects ADD COLUMN language TEXT NOT NULL DEFAULT '';
-- Where a list had a field of that name, it is this one.
UPDATE prospects SET language = custom ->> '$.language', custom = json_remove(custom, '$.language')
  WHERE coalesce(custom ->> '$.language', '') != '' AND live = 1;
DELETE FROM custom_fields WHERE name = 'language';

-- Values that nobody has read yet, by their fields: {"opening_line": "…"}. One that is another by now was written by a person.
ALTER TABLE prospects ADD COLUMN unread TEXT NOT NULL DEFAULT '{}';

-- A column's value stands among a person's own fields, so that texts, filters, exports and checks know it as any other. What
-- somebody typed or a file brought is never written over.
CREATE TRIGGER column_value_comes AFTER INSERT ON column_values WHEN NEW.value != '' BEGIN
  UPDATE prospects SET custom = json_set(custom, '$.' || NEW.code, NEW.value),
    unread = CASE WHEN NEW.read_at IS NULL THEN json_set(unread, '$.' || NEW.code, NEW.value) ELSE unread END
  WHERE (id = NEW.prospect_id OR company_id = NEW.company_id) AND live = 1 AND coalesce(custom ->> ('$.' || NEW.code), '') = '';
END;
CREATE TRIGGER column_value_changes AFTER UPDATE OF value, read_at, company_id, prospect_id ON column_values
  WHEN OLD.value IS NOT NEW.value OR OLD.read_at IS NOT NEW.read_at OR OLD.company_id IS NOT NEW.company_id
    OR OLD.prospect_id IS NOT NEW.prospect_id BEGIN
  UPDATE prospects SET
    custom = CASE WHEN NEW.value = '' THEN json_remove(custom, '$.' || NEW.code) ELSE json_set(custom, '$.' || NEW.code, NEW.value) END,
    unread = CASE WHEN NEW.value != '' AND NEW.read_at IS NULL THEN json_set(unread, '$.' || NEW.code, NEW.value)
      ELSE json_remove(unread, '$.' || NEW.code) END
  WHERE (id = NEW.prospect_id OR company_id = NEW.company_id) AND live = 1
    AND coalesce(custom ->> ('$.' || NEW.code), '') IN ('', OLD.value);
END;
CREATE TRIGGER column_value_goes AFTER DELETE ON column_values WHEN OLD.value != '' BEGIN
  UPDATE prospects SET custom = json_remove(custom, '$.' || OLD.code), unread = json_remove(unread, '$.' || OLD.code)
  WHERE (id = OLD.prospect_id OR company_id = OLD.company_id) AND custom ->> ('$.' || OLD.code) = OLD.value;
END;
-- Whoever comes to a company has what is known of it; whoever leaves it does not take it along.
CREATE TRIGGER column_values_of_newcomer AFTER INSERT ON prospects
  WHEN NEW.company_id IS NOT NULL AND EXISTS (SELECT 1 FROM column_values WHERE company_id = NEW.company_id) BEGIN
  UPDATE prospects SET
    custom = json_patch(custom, (SELECT json_group_object(v.code, v.value) FROM column_values v
      WHERE v.company_id = NEW.company_id AND v.value != '' AND coalesce(NEW.custom ->> ('$.' || v.code), '') = '')),
    unread = (SELECT json_group_object(v.code, v.value) FROM column_values v
      WHERE v.company_id = NEW.company_id AND v.value != '' AND v.read_at IS NULL)
  WHERE id = NEW.id;
END;
CREATE TRIGGER column_values_of_mover AFTER UPDATE OF company_id ON prospects
  WHEN NEW.company_id IS NOT OLD.company_id
    AND EXISTS (SELECT 1 FROM column_values WHERE company_id IN (OLD.company_id, NEW.company_id)) BEGIN
  UPDATE prospects SET
    custom = json_patch(custom, (SELECT json_group_object(v.code, NULL) FROM column_values v
      WHERE v.company_id = OLD.company_id AND v.value != '' AND custom ->> ('$.' || v.code) = v.value)),
    unread = json_patch(unread, (SELECT json_group_object(v.code, NULL) FROM column_values v WHERE v.company_id = OLD.company_id))
  WHERE id = NEW.id;
  UPDATE prospects SET
    custom = json_patch(custom, (SELECT json_group_object(v.code, v.value) FROM column_values v
      WHERE v.company_id = NEW.company_id AND v.value != '' AND coalesce(custom ->> ('$.' || v.code), '') = '')),
    unread = json_patch(unread, (SELECT json_group_object(v.code, v.value) FROM column_values v
      WHERE v.company_id = NEW.company_id AND v.value != '' AND v.read_at IS NULL))
  WHERE id = NEW.id AND NEW.company_id IS NOT NULL AND live = 1;
END;

-- What is unread holds an email; once it is read, it goes.
DROP TRIGGER reconsider_people;
CREATE TRIGGER reconsider_people
  AFTER UPDATE OF email, first_name, last_name, company, title, city, country, phone, profile, custom, unread, language, time_zone ON prospects
  BEGIN
  INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE prospect_id = NEW.id AND state = 'active';
END;
DROP TRIGGER replan_people;
CREATE TRIGGER replan_people
  AFTER UPDATE OF email, verdict, time_zone, country, profile, company_id, company, first_name, last_name, title, city, phone, custom, unread ON prospects
  BEGIN
  INSERT OR IGNORE INTO replan SELECT id FROM journeys WHERE prospect_id = NEW.id AND state = 'active';
END;
DROP TRIGGER replan_asked;
CREATE TRIGGER replan_asked AFTER UPDATE OF wait_reason ON journeys
  WHEN NEW.wait_reason IS NOT OLD.wait_reason
    AND ('merge_field_empty' IN (NEW.wait_reason, OLD.wait_reason) OR 'text_broken' IN (NEW.wait_reason, OLD.wait_reason)
      OR 'line_unread' IN (NEW.wait_reason, OLD.wait_reason)
      OR 'likely_reply' IN (NEW.wait_reason, OLD.wait_reason) OR 'no_mailbox' IN (NEW.wait_reason, OLD.wait_reason)
      OR 'refused_for_now' IN (NEW.wait_reason, OLD.wait_reason)) BEGIN
  INSERT OR IGNORE INTO replan VALUES (NEW.id);
END;

CREATE TABLE jobs_new (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('look_through', 'import', 'search', 'verify', 'find_addresses', 'duplicates', 'learn', 'archive',
    'research', 'try_research')),
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
