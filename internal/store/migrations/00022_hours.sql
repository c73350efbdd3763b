-- +goose Up
-- What people write into their week sheets, by project. A change is a row of its own; the newest of a person, week and project stands.
CREATE TABLE week_parts (
  id INTEGER PRIMARY KEY, person TEXT NOT NULL, week INTEGER NOT NULL, project TEXT NOT NULL, state TEXT NOT NULL, rows TEXT NOT NULL,
  who TEXT NOT NULL, login TEXT NOT NULL, at TEXT NOT NULL, reason TEXT NOT NULL
) STRICT;
CREATE INDEX week_parts_by_person ON week_parts (person, week, project, id);
CREATE INDEX week_parts_by_week ON week_parts (week, person, project, id);
CREATE INDEX timesheets_by_person ON timesheets (person, date);
