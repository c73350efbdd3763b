-- +goose Up
CREATE TABLE risks (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  code TEXT NOT NULL, title TEXT NOT NULL, likelihood INTEGER, consequence INTEGER, probability INTEGER, cost_impact INTEGER,
  days_impact INTEGER, cost_code TEXT NOT NULL, activity TEXT NOT NULL, owner TEXT NOT NULL, response TEXT NOT NULL,
  review INTEGER NOT NULL, due INTEGER NOT NULL, state TEXT NOT NULL, currency TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE issues (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  code TEXT NOT NULL, title TEXT NOT NULL, priority TEXT NOT NULL, owner TEXT NOT NULL, due INTEGER NOT NULL, state TEXT NOT NULL,
  from_risk TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE actions (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  code TEXT NOT NULL, title TEXT NOT NULL, owner TEXT NOT NULL, due INTEGER NOT NULL, state TEXT NOT NULL, percent_complete INTEGER,
  source TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE backlog (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  code TEXT NOT NULL, title TEXT NOT NULL, points INTEGER, state TEXT NOT NULL, iteration TEXT NOT NULL, added INTEGER NOT NULL,
  accepted INTEGER NOT NULL, rank INTEGER, owner TEXT NOT NULL, blocked TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE benefits (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  code TEXT NOT NULL, name TEXT NOT NULL, month INTEGER NOT NULL, planned INTEGER, forecast INTEGER, achieved INTEGER, currency TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE assignments (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  person TEXT NOT NULL, role TEXT NOT NULL, "from" INTEGER NOT NULL, "to" INTEGER NOT NULL, percent INTEGER, activity TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

-- Closed periods: up to which load each was computed, under which settings, and what came out. One that is reopened stays, and is
-- followed by its next issue. The serial is the order of closing; those closed up to ended_after saw an issue that was reopened.
CREATE TABLE periods (
  serial INTEGER PRIMARY KEY, period INTEGER NOT NULL, issue INTEGER NOT NULL, as_of INTEGER NOT NULL, load_id INTEGER NOT NULL,
  settings TEXT NOT NULL, at TEXT NOT NULL, who TEXT NOT NULL, digest TEXT NOT NULL,
  ended_after INTEGER, reopened_at TEXT, reopened_by TEXT NOT NULL, reason TEXT NOT NULL, UNIQUE (period, issue)
) STRICT;

DROP TABLE pins;
-- What each was computed from, with the SHA-256 over the rows.
CREATE TABLE pins (
  serial INTEGER NOT NULL REFERENCES periods, load_id INTEGER NOT NULL REFERENCES loads, rows TEXT NOT NULL,
  PRIMARY KEY (serial, load_id)
) STRICT, WITHOUT ROWID;

-- The figures of closed periods, clustered by measure so that one is read over time. The scope is the id of a project, that of a
-- node with a minus, or 0 for all.
CREATE TABLE period_values (
  measure TEXT NOT NULL, scope INTEGER NOT NULL, serial INTEGER NOT NULL,
  known INTEGER NOT NULL, n INTEGER NOT NULL, ratio REAL NOT NULL, reason TEXT NOT NULL,
  PRIMARY KEY (measure, scope, serial)
) STRICT, WITHOUT ROWID;

CREATE TABLE period_findings (
  serial INTEGER NOT NULL, project_id INTEGER NOT NULL, finding TEXT NOT NULL, record TEXT NOT NULL,
  PRIMARY KEY (serial, project_id, finding, record)
) STRICT, WITHOUT ROWID;

CREATE VIEW standing_periods AS SELECT * FROM periods WHERE reopened_at IS NULL;

-- What stands in the way of closing a period and is let pass, by whom and why.
CREATE TABLE waivers (
  id INTEGER PRIMARY KEY, period INTEGER NOT NULL, what TEXT NOT NULL, reason TEXT NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL,
  ended_at TEXT, ended_by TEXT NOT NULL
) STRICT;
CREATE INDEX waivers_period ON waivers (period);

-- Statuses that people set over computed ones. They lapse by their day, or are ended before.
CREATE TABLE overrides (
  id INTEGER PRIMARY KEY, project_id INTEGER NOT NULL REFERENCES projects, dimension INTEGER NOT NULL, status INTEGER NOT NULL,
  reason TEXT NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL, since INTEGER NOT NULL, until INTEGER NOT NULL, ended_at TEXT, ended_by TEXT NOT NULL
) STRICT;
CREATE INDEX overrides_project ON overrides (project_id);

-- Findings that are accepted, with a reason, until a day.
CREATE TABLE acceptances (
  id INTEGER PRIMARY KEY, project_id INTEGER NOT NULL REFERENCES projects, finding TEXT NOT NULL, record TEXT NOT NULL,
  reason TEXT NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL, until INTEGER NOT NULL, ended_at TEXT, ended_by TEXT NOT NULL
) STRICT;

CREATE INDEX revisions_load ON revisions (load_id);

-- Which projects changed with each head; 0 is all of them.
CREATE TABLE stirs (head INTEGER NOT NULL, project_id INTEGER NOT NULL, PRIMARY KEY (head, project_id)) STRICT, WITHOUT ROWID;
INSERT INTO stirs SELECT CAST(value AS INTEGER), 0 FROM settings WHERE key = 'head';

-- Tables as people keep them: columns, filters and order in the address.
CREATE TABLE saved_views (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, query TEXT NOT NULL, who TEXT NOT NULL, login TEXT NOT NULL, shared INTEGER NOT NULL, at TEXT NOT NULL,
  ended_at TEXT
) STRICT;
