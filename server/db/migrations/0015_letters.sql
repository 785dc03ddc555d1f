-- Letters: what a machine writes that says nothing about anybody's being there is a kind of its own.
CREATE TABLE replies_new (
  id INTEGER PRIMARY KEY,
  mailbox_id INTEGER NOT NULL REFERENCES mailboxes (id),
  message_id TEXT NOT NULL,
  prospect_id INTEGER REFERENCES prospects (id),
  touch_id INTEGER REFERENCES touches (id),
  -- 'challenge': a server asks that a person confirms the sender.
  kind TEXT NOT NULL CHECK (kind IN ('person', 'automatic', 'left', 'bounce', 'delay', 'complaint', 'receipt', 'challenge', 'notice')),
  -- 'likely': no id says so; the journey waits until the rep has said whether it is an answer. 'denied': it is none.
  certainty TEXT NOT NULL DEFAULT 'sure' CHECK (certainty IN ('sure', 'likely', 'denied')),
  from_address TEXT NOT NULL,
  from_name TEXT NOT NULL,
  answer_to TEXT NOT NULL DEFAULT '',
  subject TEXT NOT NULL,
  -- What they wrote, and the quoted rest.
  text TEXT NOT NULL,
  quoted TEXT NOT NULL DEFAULT '',
  -- Names of what was attached, as a JSON array.
  attached TEXT NOT NULL DEFAULT '[]',
  detail TEXT,
  thread_references TEXT NOT NULL DEFAULT '',
  at INTEGER NOT NULL,
  read_at INTEGER,
  -- core/replies/sort.ts, Reading, as JSON; null where nothing was read.
  reading TEXT,
  label_id INTEGER REFERENCES labels (id),
  labelled_at INTEGER,
  -- Null where the tool set it by itself.
  labelled_by INTEGER REFERENCES users (id),
  -- When it was answered, or handed on: nothing waits for the rep any more.
  answered_at INTEGER,
  UNIQUE (mailbox_id, message_id)
) STRICT;
INSERT INTO replies_new (id, mailbox_id, message_id, prospect_id, touch_id, kind, certainty, from_address, from_name, answer_to, subject, text, quoted, attached, detail, thread_references, at, read_at, reading, label_id, labelled_at, labelled_by, answered_at) SELECT id, mailbox_id, message_id, prospect_id, touch_id, kind, certainty, from_address, from_name, answer_to, subject, text, quoted, attached, detail, thread_references, at, read_at, reading, label_id, labelled_at, labelled_by, answered_at FROM replies;
DROP TABLE replies;
ALTER TABLE replies_new RENAME TO replies;
CREATE INDEX replies_by_kind ON replies (kind, at, certainty, prospect_id);
CREATE INDEX replies_by_labeller ON replies (labelled_by, labelled_at) WHERE labelled_by IS NOT NULL;
CREATE INDEX replies_by_prospect ON replies (prospect_id, at);
CREATE INDEX replies_labelled ON replies (label_id, at) WHERE label_id IS NOT NULL;
CREATE INDEX replies_likely ON replies (prospect_id) WHERE certainty = 'likely';
CREATE INDEX replies_unread ON replies (at) WHERE read_at IS NULL;
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
CREATE TRIGGER words_of_reply AFTER INSERT ON replies BEGIN
  INSERT INTO message_words (rowid, subject, body, who) VALUES (2 * NEW.id, NEW.subject, NEW.text, NEW.from_name || ' ' || NEW.from_address);
  INSERT INTO message_pieces (rowid, body) SELECT 2 * NEW.id, NEW.subject || ' ' || NEW.text
    WHERE NEW.subject || NEW.text GLOB '*[฀-๿぀-ヿ㐀-鿿가-힣]*';
END;
CREATE TRIGGER words_of_reply_change AFTER UPDATE OF subject, text, from_name, from_address ON replies
  WHEN NEW.subject IS NOT OLD.subject OR NEW.text IS NOT OLD.text OR NEW.from_name IS NOT OLD.from_name OR NEW.from_address IS NOT OLD.from_address BEGIN
  DELETE FROM message_words WHERE rowid = 2 * OLD.id;
  DELETE FROM message_pieces WHERE rowid = 2 * OLD.id;
  INSERT INTO message_words (rowid, subject, body, who) VALUES (2 * NEW.id, NEW.subject, NEW.text, NEW.from_name || ' ' || NEW.from_address);
  INSERT INTO message_pieces (rowid, body) SELECT 2 * NEW.id, NEW.subject || ' ' || NEW.text
    WHERE NEW.subject || NEW.text GLOB '*[฀-๿぀-ヿ㐀-鿿가-힣]*';
END;
CREATE TRIGGER words_of_reply_gone AFTER DELETE ON replies BEGIN
  DELETE FROM message_words WHERE rowid = 2 * OLD.id;
  DELETE FROM message_pieces WHERE rowid = 2 * OLD.id;
END;
