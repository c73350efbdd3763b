-- +goose Up
-- What is said of records, linked and attached to them; risks to take; and where records were escalated to. The words of lessons are kept
-- for searching: lessons are never changed or deleted, so that what comes in is all there is to do.
ALTER TABLE risks ADD COLUMN escalated_to TEXT NOT NULL DEFAULT '';
ALTER TABLE risks ADD COLUMN escalated_why TEXT NOT NULL DEFAULT '';
ALTER TABLE issues ADD COLUMN escalated_to TEXT NOT NULL DEFAULT '';
ALTER TABLE issues ADD COLUMN escalated_why TEXT NOT NULL DEFAULT '';
CREATE TABLE ready_risks (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  code TEXT NOT NULL, title TEXT NOT NULL, description TEXT NOT NULL, category TEXT NOT NULL, response_kind TEXT NOT NULL,
  response TEXT NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;
CREATE INDEX ready_risks_code ON ready_risks (code, load_id);
CREATE TABLE discussion (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  node TEXT NOT NULL, about TEXT NOT NULL, code TEXT NOT NULL, "on" INTEGER NOT NULL, "by" TEXT NOT NULL, text TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
CREATE TABLE outside_records (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  node TEXT NOT NULL, about TEXT NOT NULL, code TEXT NOT NULL, number TEXT NOT NULL, title TEXT NOT NULL, address TEXT NOT NULL,
  state TEXT NOT NULL, asked_on INTEGER NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
CREATE TABLE attachments (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  node TEXT NOT NULL, about TEXT NOT NULL, code TEXT NOT NULL, name TEXT NOT NULL, digest TEXT NOT NULL, size INTEGER, type TEXT NOT NULL,
  added INTEGER NOT NULL, "by" TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
CREATE VIRTUAL TABLE lesson_words USING fts5 (title, text, category, revision UNINDEXED, row UNINDEXED, tokenize = 'porter unicode61');
-- +goose StatementBegin
CREATE TRIGGER lessons_words AFTER INSERT ON lessons BEGIN
  INSERT INTO lesson_words (title, text, category, revision, row) VALUES (new.title, new.text, new.category, new.revision_id, new.row);
END;
-- +goose StatementEnd
