-- +goose Up
-- Reports and the order of Lookout are kept as tables are: by name, as an address says them.
ALTER TABLE saved_views ADD COLUMN sort TEXT NOT NULL DEFAULT 'table';

-- The organisation's mark; the newest one counts, and one without bytes takes it away.
CREATE TABLE marks (id INTEGER PRIMARY KEY, type TEXT NOT NULL, bytes BLOB NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL) STRICT;

-- Who gets which report, and when: once a period is closed (day 0) by a closing after a serial, or on a day of each month.
CREATE TABLE mailings (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, report TEXT NOT NULL, format TEXT NOT NULL, attach INTEGER NOT NULL, day INTEGER NOT NULL, logins TEXT NOT NULL,
  roles TEXT NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL, after INTEGER NOT NULL, ended_at TEXT
) STRICT;

-- What was sent to whom; occasion says what for, so that nothing is sent twice. file is the message, kept what was attached or linked.
CREATE TABLE sendings (
  id INTEGER PRIMARY KEY, list TEXT NOT NULL, occasion TEXT NOT NULL, login TEXT NOT NULL, name TEXT NOT NULL, email TEXT NOT NULL,
  report TEXT NOT NULL, as_of TEXT NOT NULL, file TEXT NOT NULL, kept TEXT NOT NULL, failed TEXT NOT NULL, at TEXT NOT NULL,
  UNIQUE (list, occasion, login)
) STRICT;

CREATE TABLE openings (sending_id INTEGER NOT NULL REFERENCES sendings (id), at TEXT NOT NULL, who TEXT NOT NULL) STRICT;
CREATE INDEX openings_sending ON openings (sending_id);

-- A notice from the office to all; the newest that has not ended stands.
CREATE TABLE notices (id INTEGER PRIMARY KEY, text TEXT NOT NULL, until TEXT NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL, ended_at TEXT) STRICT;

-- Periods said to be in review, or in work again.
CREATE TABLE reviews (id INTEGER PRIMARY KEY, month INTEGER NOT NULL, review INTEGER NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL) STRICT;

-- What the office and a lead say to each other about a project in a period; one that asks stands open until it is answered.
CREATE TABLE remarks (
  id INTEGER PRIMARY KEY, project_id INTEGER NOT NULL REFERENCES projects (id), month INTEGER NOT NULL, part TEXT NOT NULL, text TEXT NOT NULL, asks INTEGER NOT NULL,
  who TEXT NOT NULL, login TEXT NOT NULL, at TEXT NOT NULL, answered_at TEXT, answered_by TEXT
) STRICT;
CREATE INDEX remarks_project ON remarks (project_id, month);
