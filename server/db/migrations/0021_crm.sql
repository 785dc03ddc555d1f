-- The newest import when somebody was erased: in files up to it nobody may find them any more.
ALTER TABLE erased_addresses ADD COLUMN newest_import INTEGER NOT NULL DEFAULT 0;
UPDATE erased_addresses SET newest_import = coalesce((SELECT max(id) FROM imports), 0);
