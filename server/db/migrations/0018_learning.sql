-- What results are asked for again and again, and what is decided by them.

-- The starting point that a sequence began from, so that the shelf can say what each brought; and what was put there, from where.
ALTER TABLE sequences ADD COLUMN begun_from TEXT;
ALTER TABLE shelf ADD COLUMN sequence_id INTEGER REFERENCES sequences (id) ON DELETE SET NULL;

-- Looks at results that somebody gave a name: their own. `query`: as in the page's address.
CREATE TABLE looks (
  id INTEGER PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  path TEXT NOT NULL,
  query TEXT NOT NULL,
  at INTEGER NOT NULL,
  UNIQUE (user_id, name)
) STRICT;

-- How many calls are to be booked in a week: by a person, or by the team (user_id NULL).
CREATE TABLE targets (
  user_id INTEGER UNIQUE REFERENCES users (id) ON DELETE CASCADE,
  calls_a_week INTEGER NOT NULL CHECK (calls_a_week BETWEEN 1 AND 1000),
  set_by INTEGER REFERENCES users (id) ON DELETE SET NULL,
  at INTEGER NOT NULL
) STRICT;
CREATE UNIQUE INDEX target_of_team ON targets (user_id IS NULL) WHERE user_id IS NULL;

-- What share each wording of an email gets of whoever comes, decided anew by day where a step gives the better one more.
CREATE TABLE wording_shares (
  sequence_id INTEGER NOT NULL REFERENCES sequences (id) ON DELETE CASCADE,
  step_id TEXT NOT NULL,
  -- "2026-11-30", where the sequence is.
  day TEXT NOT NULL,
  -- JSON: of each wording its weight and what it rests on, [{"id", "weight", "part", "whole"}].
  shares TEXT NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (sequence_id, step_id, day)
) STRICT, WITHOUT ROWID;

CREATE INDEX journey_outcomes_booked ON journey_outcomes (booked_at) WHERE booked_at IS NOT NULL;

-- What a mail says of it below its one line.
ALTER TABLE notices ADD COLUMN body TEXT NOT NULL DEFAULT '';

-- Drifts of a mailbox that its owner has looked at: "bounced 2026-11-30", by the week in which they began.
CREATE TABLE drifts_seen (
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (mailbox_id, kind)
) STRICT, WITHOUT ROWID;

-- With the step, so that a sender's weeks are told apart by what was sent without reading the rows.
DROP INDEX touch_outcomes_by_sender;
CREATE INDEX touch_outcomes_by_sender ON touch_outcomes (mailbox_id, at, step_id, reached_at, bounced_at, answered_at) WHERE mailbox_id IS NOT NULL;
