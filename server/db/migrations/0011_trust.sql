-- Trust: who may, what is uncertain after a restore, what failed, what strangers asked for.

-- ── What failed in a process besides what it was asked for (server/db/failures.ts) ──
CREATE TABLE failures (
  kind TEXT NOT NULL,
  name TEXT NOT NULL,
  count INTEGER NOT NULL,
  last_wall INTEGER NOT NULL,
  words TEXT NOT NULL,
  PRIMARY KEY (kind, name)
) STRICT, WITHOUT ROWID;
