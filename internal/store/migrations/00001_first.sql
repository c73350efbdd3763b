-- +goose Up
-- Days count from 0001-01-01 = 1, months are twelve times the year plus the month from 0; 0 or NULL is not given.
CREATE TABLE settings (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT, WITHOUT ROWID;

CREATE TABLE loads (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL,
  file TEXT NOT NULL,
  digest TEXT NOT NULL,
  size INTEGER NOT NULL,
  rows INTEGER NOT NULL,
  source TEXT NOT NULL,
  author TEXT NOT NULL,
  received_at TEXT NOT NULL,
  recognised TEXT NOT NULL,
  withdrawn_at TEXT
) STRICT;
CREATE INDEX loads_digest ON loads (kind, digest);

CREATE TABLE nodes (id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE) STRICT;
CREATE TABLE node_rows (
  node_id INTEGER NOT NULL REFERENCES nodes, load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  name TEXT NOT NULL, level TEXT NOT NULL, parent TEXT NOT NULL, owner TEXT NOT NULL,
  PRIMARY KEY (node_id, load_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE projects (id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE) STRICT;
CREATE TABLE project_rows (
  project_id INTEGER NOT NULL REFERENCES projects, load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  name TEXT NOT NULL, parent TEXT NOT NULL, lead TEXT NOT NULL, sponsor TEXT NOT NULL, category TEXT NOT NULL,
  stage TEXT NOT NULL, business_unit TEXT NOT NULL, status TEXT NOT NULL, currency TEXT NOT NULL,
  planned_start INTEGER NOT NULL, planned_finish INTEGER NOT NULL, required_finish INTEGER NOT NULL,
  driven INTEGER NOT NULL, earned_value INTEGER NOT NULL,
  PRIMARY KEY (project_id, load_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE cost_codes (id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE) STRICT;
CREATE TABLE cost_code_rows (
  cost_code_id INTEGER NOT NULL REFERENCES cost_codes, load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  name TEXT NOT NULL, parent TEXT NOT NULL, type TEXT NOT NULL, closed INTEGER NOT NULL,
  PRIMARY KEY (cost_code_id, load_id)
) STRICT, WITHOUT ROWID;

-- A load replaces each calendar that it names as a whole.
CREATE TABLE calendar_rows (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  calendar TEXT NOT NULL, day INTEGER NOT NULL, weekday INTEGER, working INTEGER NOT NULL, name TEXT NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE rate_rows (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  currency TEXT NOT NULL, month INTEGER NOT NULL, plan INTEGER NOT NULL, rate INTEGER NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;

-- A revision is what one load brought of one kind for one project. The newest of a load not withdrawn is current.
CREATE TABLE revisions (
  id INTEGER PRIMARY KEY,
  load_id INTEGER NOT NULL REFERENCES loads,
  kind TEXT NOT NULL,
  project_id INTEGER NOT NULL REFERENCES projects,
  rows INTEGER NOT NULL,
  UNIQUE (kind, project_id, load_id)
) STRICT;

CREATE TABLE activities (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  code TEXT NOT NULL, name TEXT NOT NULL, parent TEXT NOT NULL, kind INTEGER NOT NULL, level INTEGER NOT NULL,
  baseline_start INTEGER NOT NULL, baseline_finish INTEGER NOT NULL, start INTEGER NOT NULL, finish INTEGER NOT NULL,
  actual_start INTEGER NOT NULL, actual_finish INTEGER NOT NULL,
  duration INTEGER, remaining INTEGER, percent INTEGER, weight INTEGER, ev_method TEXT NOT NULL,
  owner TEXT NOT NULL, party TEXT NOT NULL, calendar TEXT NOT NULL,
  not_before INTEGER NOT NULL, not_after INTEGER NOT NULL, low INTEGER, likely INTEGER, high INTEGER,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE links (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  from_code TEXT NOT NULL, to_code TEXT NOT NULL, type TEXT NOT NULL, lag INTEGER NOT NULL,
  from_project TEXT NOT NULL, to_project TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

-- Budget and forecast alike; the revision tells which.
CREATE TABLE plan_lines (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  cost_code_id INTEGER NOT NULL REFERENCES cost_codes, amount INTEGER NOT NULL, currency TEXT NOT NULL,
  month INTEGER NOT NULL, from_day INTEGER NOT NULL, to_day INTEGER NOT NULL, profile INTEGER NOT NULL,
  cost_centre TEXT NOT NULL, change TEXT NOT NULL, note TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE statuses (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  overall INTEGER NOT NULL, schedule INTEGER NOT NULL, cost INTEGER NOT NULL, scope INTEGER NOT NULL, risk INTEGER NOT NULL,
  benefit INTEGER NOT NULL, percent INTEGER, commentary TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

-- The ledger, clustered by project so that one project's rows stand together. Its ids are taken from their tables within
-- the transaction that writes them and are never deleted, so it goes without references, which would be checked per row.
CREATE TABLE postings (
  project_id INTEGER NOT NULL, load_id INTEGER NOT NULL, row INTEGER NOT NULL,
  cost_code_id INTEGER NOT NULL, day INTEGER NOT NULL, amount INTEGER NOT NULL, currency TEXT NOT NULL,
  cost_centre TEXT NOT NULL, document TEXT NOT NULL, supplier TEXT NOT NULL, note TEXT NOT NULL,
  PRIMARY KEY (project_id, load_id, row)
) STRICT, WITHOUT ROWID;

CREATE VIEW standing_loads AS SELECT * FROM loads WHERE withdrawn_at IS NULL;
CREATE VIEW current_revisions AS
  SELECT kind, project_id, max(revisions.id) AS id FROM revisions
  WHERE load_id IN (SELECT id FROM standing_loads) GROUP BY kind, project_id;
CREATE VIEW current_nodes AS
  SELECT node_id, max(load_id) AS load_id FROM node_rows
  WHERE load_id IN (SELECT id FROM standing_loads) GROUP BY node_id;
CREATE VIEW current_projects AS
  SELECT project_id, max(load_id) AS load_id FROM project_rows
  WHERE load_id IN (SELECT id FROM standing_loads) GROUP BY project_id;
CREATE VIEW current_cost_codes AS
  SELECT cost_code_id, max(load_id) AS load_id FROM cost_code_rows
  WHERE load_id IN (SELECT id FROM standing_loads) GROUP BY cost_code_id;
