-- +goose Up
-- The period that a load was received for, in months as elsewhere; 0 is not known. Withdrawn loads say by whom and why.
ALTER TABLE loads ADD COLUMN period INTEGER NOT NULL DEFAULT 0;
ALTER TABLE loads ADD COLUMN withdrawn_by TEXT NOT NULL DEFAULT '';
ALTER TABLE loads ADD COLUMN reason TEXT NOT NULL DEFAULT '';
INSERT INTO settings (key, value) VALUES ('head', '0');
UPDATE settings SET value = (SELECT coalesce(max(id), 0) FROM loads) WHERE key = 'head';

-- Since postings have no revisions of their own, those of older files are made up for here; the matrix reads them.
INSERT OR IGNORE INTO revisions (load_id, kind, project_id, rows)
  SELECT load_id, 'actuals', project_id, count(*) FROM postings GROUP BY project_id, load_id;

DROP VIEW standing_loads;
CREATE VIEW standing_loads AS SELECT * FROM loads WHERE withdrawn_at IS NULL;

-- What was refused, so that the matrix can tell "refused" from "missing".
CREATE TABLE refusals (
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, source TEXT NOT NULL, author TEXT NOT NULL, file TEXT NOT NULL,
  kind TEXT NOT NULL, period INTEGER NOT NULL, problems INTEGER NOT NULL, first TEXT NOT NULL
) STRICT;
CREATE TABLE refused_projects (
  refusal_id INTEGER NOT NULL REFERENCES refusals, project_id INTEGER NOT NULL REFERENCES projects,
  PRIMARY KEY (refusal_id, project_id)
) STRICT, WITHOUT ROWID;

-- How the files of a source are read, remembered by the heads that they have.
CREATE TABLE mappings (
  source TEXT NOT NULL, heads TEXT NOT NULL, mapping TEXT NOT NULL, used_at TEXT NOT NULL,
  PRIMARY KEY (source, heads)
) STRICT, WITHOUT ROWID;

-- What a published period was computed from.
CREATE TABLE pins (
  period INTEGER NOT NULL, load_id INTEGER NOT NULL REFERENCES loads,
  PRIMARY KEY (period, load_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE accounts (
  id INTEGER PRIMARY KEY, login TEXT NOT NULL UNIQUE, name TEXT NOT NULL, email TEXT NOT NULL, role TEXT NOT NULL,
  scopes TEXT NOT NULL, hide_money INTEGER NOT NULL, active INTEGER NOT NULL, password TEXT NOT NULL, version INTEGER NOT NULL
) STRICT;

-- Keys of the read API; only their digests are kept.
CREATE TABLE tokens (
  id INTEGER PRIMARY KEY, account_id INTEGER NOT NULL REFERENCES accounts, name TEXT NOT NULL, digest TEXT NOT NULL UNIQUE,
  made_at TEXT NOT NULL, ended_at TEXT
) STRICT;

-- Who did what to which record. Each entry's digest covers the one before, so that a change anywhere shows.
CREATE TABLE audit (
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, who TEXT NOT NULL, act TEXT NOT NULL, subject TEXT NOT NULL,
  before TEXT NOT NULL, after TEXT NOT NULL, former TEXT NOT NULL, digest TEXT NOT NULL
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER audit_is_kept BEFORE DELETE ON audit BEGIN SELECT raise(ABORT, 'the audit trail is only added to'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER audit_is_fixed BEFORE UPDATE ON audit BEGIN SELECT raise(ABORT, 'the audit trail is only added to'); END;
-- +goose StatementEnd

-- What came back from outside systems, run by run.
CREATE TABLE feed_runs (
  id INTEGER PRIMARY KEY, feed TEXT NOT NULL, started_at TEXT NOT NULL, ended_at TEXT, state TEXT NOT NULL,
  cursor TEXT NOT NULL, rows INTEGER NOT NULL, load_id INTEGER, log TEXT NOT NULL
) STRICT;

-- A row of a file with a column for each month brings several lines; part tells them apart.
CREATE TABLE plan_lines_with_part (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL, part INTEGER NOT NULL,
  cost_code_id INTEGER NOT NULL REFERENCES cost_codes, amount INTEGER NOT NULL, currency TEXT NOT NULL,
  month INTEGER NOT NULL, from_day INTEGER NOT NULL, to_day INTEGER NOT NULL, profile INTEGER NOT NULL,
  cost_centre TEXT NOT NULL, change TEXT NOT NULL, note TEXT NOT NULL,
  PRIMARY KEY (revision_id, row, part)
) STRICT, WITHOUT ROWID;
INSERT INTO plan_lines_with_part SELECT revision_id, row, 0, cost_code_id, amount, currency, month, from_day, to_day, profile,
  cost_centre, change, note FROM plan_lines;
DROP TABLE plan_lines;
ALTER TABLE plan_lines_with_part RENAME TO plan_lines;
