-- +goose Up
-- What the heads and values of a sender mean, to the whole office (owner is empty) or to one who sends for a part of it (their login), with
-- who changed it last, when, and what that was in words.
CREATE TABLE meanings (
  source TEXT NOT NULL, owner TEXT NOT NULL, heads TEXT NOT NULL, mapping TEXT NOT NULL, used_at TEXT NOT NULL,
  changed_at TEXT NOT NULL, changed_by TEXT NOT NULL, change TEXT NOT NULL,
  PRIMARY KEY (source, owner, heads)
) STRICT, WITHOUT ROWID;
INSERT INTO meanings SELECT source, '', heads, mapping, used_at, '', '', '' FROM mappings;
DROP TABLE mappings;
