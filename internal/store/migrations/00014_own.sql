-- +goose Up
-- Fields that an office made for its projects: the newest standing row of each counts. What a project has in them stands in its row, as
-- JSON by their codes, empty for nothing.
CREATE TABLE own_fields (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  code TEXT NOT NULL, name TEXT NOT NULL, type TEXT NOT NULL, choices TEXT NOT NULL, says TEXT NOT NULL, closed TEXT NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;
CREATE INDEX own_fields_code ON own_fields (code, load_id);
ALTER TABLE project_rows ADD COLUMN own TEXT NOT NULL DEFAULT '';

CREATE TABLE contacts (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  name TEXT NOT NULL, about TEXT NOT NULL, email TEXT NOT NULL, phone TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
CREATE TABLE documents (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  title TEXT NOT NULL, address TEXT NOT NULL, note TEXT NOT NULL, activity TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
