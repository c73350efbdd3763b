-- +goose Up
-- When people are not at work: the newest standing row of a person and a first day counts.
CREATE TABLE absences (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  person TEXT NOT NULL, "from" INTEGER NOT NULL, "to" INTEGER NOT NULL, hours INTEGER, reason TEXT NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;
CREATE INDEX absences_person ON absences (person, "from", load_id);
