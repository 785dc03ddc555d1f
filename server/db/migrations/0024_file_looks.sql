-- Files that go as a link to a viewer (server/pages/file-looks.ts): how they are locked, and what each person looked at.

-- Its password, hashed; "" for none. Days after which its link ends; null: it does not.
ALTER TABLE files ADD COLUMN lock TEXT NOT NULL DEFAULT '';
ALTER TABLE files ADD COLUMN days INTEGER;

CREATE TABLE file_looks (
  file_id INTEGER NOT NULL REFERENCES files (id) ON DELETE CASCADE,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  -- When they were given its link for the last time, and in which email; null: by no email, or by none yet.
  given_at INTEGER,
  touch_id INTEGER REFERENCES touches (id),
  -- Where it came with a page that is theirs, it ends with that.
  page_ends_at INTEGER,
  opened_at INTEGER,
  last_at INTEGER,
  -- How many pages it has, and the seconds for which each was before them, by its number.
  pages INTEGER NOT NULL DEFAULT 0,
  seconds TEXT NOT NULL DEFAULT '{}',
  saved_at INTEGER,
  -- Passwords that were wrong, since when.
  tries INTEGER NOT NULL DEFAULT 0,
  tries_since INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (file_id, prospect_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX file_looks_of_person ON file_looks (prospect_id);
CREATE INDEX file_looks_of_touch ON file_looks (touch_id) WHERE touch_id IS NOT NULL;
