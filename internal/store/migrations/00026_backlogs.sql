-- +goose Up
-- When items are worked on and taken out again; what benefits are counted in and who answers for them; iterations by revisions of a project.
ALTER TABLE backlog ADD COLUMN started INTEGER NOT NULL DEFAULT 0;
ALTER TABLE backlog ADD COLUMN done_on INTEGER NOT NULL DEFAULT 0;
ALTER TABLE backlog ADD COLUMN removed INTEGER NOT NULL DEFAULT 0;
ALTER TABLE benefits ADD COLUMN unit TEXT NOT NULL DEFAULT '';
ALTER TABLE benefits ADD COLUMN owner TEXT NOT NULL DEFAULT '';
CREATE TABLE iterations (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  code TEXT NOT NULL, "from" INTEGER NOT NULL, "to" INTEGER NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
