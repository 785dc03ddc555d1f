-- Counts up with each letter that comes, and with each that is labelled, read or recognised, so that open pages know what a
-- colleague or another tab did.
CREATE TABLE reply_revision (number INTEGER NOT NULL) STRICT;
INSERT INTO reply_revision VALUES (0);
CREATE TRIGGER reply_came AFTER INSERT ON replies BEGIN
  UPDATE reply_revision SET number = number + 1;
END;
CREATE TRIGGER reply_changed AFTER UPDATE OF label_id, read_at, certainty ON replies
  WHEN (NEW.label_id, NEW.read_at, NEW.certainty) IS NOT (OLD.label_id, OLD.read_at, OLD.certainty) BEGIN
  UPDATE reply_revision SET number = number + 1;
END;
CREATE TRIGGER reply_gone AFTER DELETE ON replies BEGIN
  UPDATE reply_revision SET number = number + 1;
END;
