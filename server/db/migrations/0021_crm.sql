-- The newest import when somebody was erased: in files up to it nobody may find them any more.
ALTER TABLE erased_addresses ADD COLUMN newest_import INTEGER NOT NULL DEFAULT 0;
UPDATE erased_addresses SET newest_import = coalesce((SELECT max(id) FROM imports), 0);

-- A CRM with which people, deals and what was done are kept in step. One for the team.
CREATE TABLE crms (
  id INTEGER PRIMARY KEY,
  -- It acts as this user: what they may not, it does not.
  user_id INTEGER NOT NULL REFERENCES users (id),
  name TEXT NOT NULL,
  url TEXT NOT NULL,
  -- How it is asked (core/crm/dialect.ts), and what goes which way (core/crm/settings.ts), as JSON.
  dialect TEXT NOT NULL,
  settings TEXT NOT NULL,
  client_id TEXT NOT NULL DEFAULT '',
  -- Sealed (server/secrets.ts): the client's secret, the key or refresh token, and the access that it gave until then.
  client_secret_sealed TEXT NOT NULL DEFAULT '',
  key_sealed TEXT NOT NULL,
  access_sealed TEXT NOT NULL DEFAULT '',
  access_until_wall INTEGER NOT NULL DEFAULT 0,
  -- 'looking': tried without consequences; 'held': it does nothing until somebody has looked.
  state TEXT NOT NULL DEFAULT 'new' CHECK (state IN ('new', 'looking', 'looked', 'on', 'off', 'held')),
  held_because TEXT,
  -- What can be chosen there (saved filters, stages, owners), as JSON; null until it was asked.
  choices TEXT,
  -- Where the pass through what changed there stands, as JSON; null between two.
  pass TEXT,
  -- Per kind of thing, the newest change that was seen, as JSON.
  seen TEXT NOT NULL DEFAULT '{}',
  -- What the last look through everything found, as JSON.
  report TEXT,
  looked_at INTEGER,
  -- The last pass and the next one, by the machine's clock: an outside program is asked at its pace. Earlier where it says
  -- itself that something changed.
  passed_wall INTEGER NOT NULL DEFAULT 0,
  next_wall INTEGER NOT NULL DEFAULT 0,
  failing_since INTEGER,
  retry_at INTEGER,
  tries INTEGER NOT NULL DEFAULT 0,
  -- Why it is tried again.
  failing_because TEXT,
  -- The kinds of happenings that it listens for, as a JSON array, and up to which they were looked at.
  kinds TEXT NOT NULL DEFAULT '[]',
  seen_happening INTEGER NOT NULL DEFAULT 0,
  -- The end of the address at which it says that something changed, and the secret with which it signs that.
  address TEXT NOT NULL UNIQUE,
  hook_secret_sealed TEXT NOT NULL,
  made_at INTEGER NOT NULL
) STRICT;

-- Which thing there is which here, and on what both last agreed.
CREATE TABLE crm_links (
  id INTEGER PRIMARY KEY,
  crm_id INTEGER NOT NULL REFERENCES crms (id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('person', 'company')),
  -- A person's number here; null for a company, which is known by its web domain, and for whoever is no longer here.
  prospect_id INTEGER REFERENCES prospects (id),
  there_id TEXT NOT NULL,
  -- A person's company there.
  company_there TEXT,
  -- By field, as JSON: on what both agreed (null before the first time), and what the other side says.
  base TEXT,
  there TEXT NOT NULL DEFAULT '{}',
  there_at INTEGER NOT NULL,
  -- 1: something changed here since; 2: that is being told. Of one who is gone here: they are to go there, too.
  is_dirty INTEGER NOT NULL DEFAULT 0 CHECK (is_dirty IN (0, 1, 2)),
  -- Gone on one side, until somebody says what follows; 'left': each goes its own way.
  state TEXT NOT NULL DEFAULT 'linked' CHECK (state IN ('linked', 'gone_there', 'gone_here', 'left')),
  UNIQUE (crm_id, kind, there_id)
) STRICT;
CREATE UNIQUE INDEX crm_links_of_person ON crm_links (prospect_id, crm_id) WHERE prospect_id IS NOT NULL;
CREATE INDEX crm_links_dirty ON crm_links (crm_id, id) WHERE is_dirty > 0 AND state = 'linked';
CREATE INDEX crm_links_in_step ON crm_links (crm_id) WHERE kind = 'person' AND state = 'linked' AND base IS NOT NULL;
CREATE INDEX crm_links_gone ON crm_links (crm_id, id) WHERE state IN ('gone_there', 'gone_here');
CREATE INDEX crm_links_of_company ON crm_links (crm_id, company_there) WHERE company_there IS NOT NULL;

-- Both sides changed the same field, and it is asked which counts.
CREATE TABLE crm_conflicts (
  id INTEGER PRIMARY KEY,
  crm_id INTEGER NOT NULL REFERENCES crms (id) ON DELETE CASCADE,
  link_id INTEGER NOT NULL REFERENCES crm_links (id) ON DELETE CASCADE,
  field TEXT NOT NULL,
  here TEXT NOT NULL,
  there TEXT NOT NULL,
  at INTEGER NOT NULL,
  decided TEXT CHECK (decided IN ('here', 'there')),
  UNIQUE (link_id, field)
) STRICT;
CREATE INDEX crm_conflicts_open ON crm_conflicts (crm_id, id) WHERE decided IS NULL;

CREATE TABLE crm_deals (
  id INTEGER PRIMARY KEY,
  crm_id INTEGER NOT NULL REFERENCES crms (id) ON DELETE CASCADE,
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  there_id TEXT NOT NULL,
  name TEXT NOT NULL,
  -- The id of its stage there.
  stage TEXT NOT NULL,
  value TEXT NOT NULL DEFAULT '',
  changed_at INTEGER NOT NULL,
  UNIQUE (crm_id, there_id)
) STRICT;
CREATE INDEX crm_deals_of_person ON crm_deals (prospect_id);

-- What is to be told there, in order, and what came of it.
CREATE TABLE crm_outbox (
  id INTEGER PRIMARY KEY,
  crm_id INTEGER NOT NULL REFERENCES crms (id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('person', 'activity', 'deal')),
  prospect_id INTEGER NOT NULL REFERENCES prospects (id),
  -- Under which it is made there: once, however often it is asked.
  external_id TEXT NOT NULL,
  -- What it says, as JSON.
  body TEXT NOT NULL,
  at INTEGER NOT NULL,
  state TEXT NOT NULL DEFAULT 'due' CHECK (state IN ('due', 'done', 'failed')),
  tried_at INTEGER,
  -- What it said to it, where it refused.
  answer TEXT NOT NULL DEFAULT '',
  UNIQUE (crm_id, external_id)
) STRICT;
CREATE INDEX crm_outbox_due ON crm_outbox (crm_id, id) WHERE state = 'due';
CREATE INDEX crm_outbox_failed ON crm_outbox (crm_id) WHERE state = 'failed';
CREATE INDEX crm_outbox_of_person ON crm_outbox (prospect_id, kind);
