-- Sending pace: an email's words are put into the search index with others', not in the transaction in which it is settled.

-- Emails that left, and whose words the index does not hold yet (server/db/words.ts).
CREATE TABLE words_due (touch_id INTEGER PRIMARY KEY) STRICT;

DROP TRIGGER words_of_email;
CREATE TRIGGER words_of_email AFTER UPDATE OF state ON touches WHEN NEW.state = 'sent' AND OLD.state != 'sent' AND NEW.kind != 'test' BEGIN
  INSERT OR IGNORE INTO words_due VALUES (NEW.id);
END;
DROP TRIGGER words_of_email_change;
CREATE TRIGGER words_of_email_change AFTER UPDATE OF subject, body, recipient ON touches
  WHEN OLD.state = 'sent' AND OLD.kind != 'test' AND (NEW.subject IS NOT OLD.subject OR NEW.body IS NOT OLD.body OR NEW.recipient IS NOT OLD.recipient) BEGIN
  DELETE FROM message_words WHERE rowid = 2 * OLD.id + 1;
  DELETE FROM message_pieces WHERE rowid = 2 * OLD.id + 1;
  INSERT OR IGNORE INTO words_due VALUES (NEW.id);
END;
DROP TRIGGER words_of_email_gone;
CREATE TRIGGER words_of_email_gone AFTER DELETE ON touches WHEN OLD.state = 'sent' BEGIN
  DELETE FROM message_words WHERE rowid = 2 * OLD.id + 1;
  DELETE FROM message_pieces WHERE rowid = 2 * OLD.id + 1;
  DELETE FROM words_due WHERE touch_id = OLD.id;
END;
