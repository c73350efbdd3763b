-- +goose Up
-- Registers belong to projects or to nodes. A node that holds records has an id among those of projects too, by its code, so that its
-- revisions are kept as those of projects are; it has no rows in project_rows and is none. Besides there are checklists, meetings,
-- decisions and lessons.
ALTER TABLE risks ADD COLUMN node TEXT NOT NULL DEFAULT '';
ALTER TABLE issues ADD COLUMN node TEXT NOT NULL DEFAULT '';
ALTER TABLE actions ADD COLUMN node TEXT NOT NULL DEFAULT '';
CREATE TABLE checklist (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  node TEXT NOT NULL, action TEXT NOT NULL, text TEXT NOT NULL, done TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
CREATE TABLE meetings (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  node TEXT NOT NULL, code TEXT NOT NULL, date INTEGER NOT NULL, title TEXT NOT NULL, people TEXT NOT NULL, minutes TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
CREATE TABLE decisions (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  node TEXT NOT NULL, code TEXT NOT NULL, title TEXT NOT NULL, reason TEXT NOT NULL, decided_on INTEGER NOT NULL,
  decided_by TEXT NOT NULL, meeting TEXT NOT NULL, state TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
CREATE TABLE lessons (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  code TEXT NOT NULL, title TEXT NOT NULL, text TEXT NOT NULL, category TEXT NOT NULL, raised_by TEXT NOT NULL, raised INTEGER NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
