-- +goose Up
-- Who is asked for, and what became of it. A change is a row of its own; the newest of a request stands.
CREATE TABLE people_asked (
  id INTEGER PRIMARY KEY, of INTEGER NOT NULL, project TEXT NOT NULL, person TEXT NOT NULL, role TEXT NOT NULL, from_day INTEGER NOT NULL,
  to_day INTEGER NOT NULL, percent INTEGER NOT NULL, note TEXT NOT NULL, state TEXT NOT NULL, asker TEXT NOT NULL, asker_login TEXT NOT NULL,
  who TEXT NOT NULL, answer TEXT NOT NULL, offer TEXT NOT NULL, at TEXT NOT NULL
) STRICT;
CREATE INDEX people_asked_of ON people_asked (of, id);
