-- +goose Up
-- What people write to the figures of a period, by what it is about: the newest of each counts, those before stay. The scope is the id
-- of a project, that of a node with a minus, or 0 for the whole.
CREATE TABLE commentaries (
  id INTEGER PRIMARY KEY, scope INTEGER NOT NULL, period INTEGER NOT NULL, dimension INTEGER NOT NULL,
  text TEXT NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL
) STRICT;
CREATE INDEX commentaries_of ON commentaries (scope, period, dimension);
