-- Models that were learned before features had ids of their own cannot be read any longer: the one that ships sorts
-- again, as Settings then says, and what the team corrected is learned anew from there.
UPDATE reply_models SET state = 'dropped' WHERE state <> 'dropped' AND json_extract(model, '$.ids') IS NULL;
