-- +goose Up
ALTER TABLE cost_code_rows ADD COLUMN contingency INTEGER NOT NULL DEFAULT 0;

-- Records are kept by the columns of their kind. Amounts are minor units of their currency, percentages hundredths, hours
-- ten-thousandths, codes as sent; days and months as elsewhere.
CREATE TABLE commitments (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  cost_code TEXT NOT NULL, document TEXT NOT NULL, amount INTEGER, due INTEGER NOT NULL, currency TEXT NOT NULL, supplier TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE changes (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  change TEXT NOT NULL, title TEXT NOT NULL, state TEXT NOT NULL, amount INTEGER, currency TEXT NOT NULL, days INTEGER,
  cost_code TEXT NOT NULL, "from" INTEGER NOT NULL, "to" INTEGER NOT NULL, profile TEXT NOT NULL, reason TEXT NOT NULL,
  requested_by TEXT NOT NULL, requested_on INTEGER NOT NULL, decided_by TEXT NOT NULL, decided_on INTEGER NOT NULL, answer TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE funding (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  funder TEXT NOT NULL, percent INTEGER, "from" INTEGER NOT NULL, cost_centre TEXT NOT NULL, granted INTEGER, received INTEGER, currency TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE revenue (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  code TEXT NOT NULL, name TEXT NOT NULL, month INTEGER NOT NULL, planned INTEGER, billed INTEGER, billed_on INTEGER NOT NULL,
  client TEXT NOT NULL, type TEXT NOT NULL, milestone TEXT NOT NULL, currency TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE people (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  code TEXT NOT NULL, name TEXT NOT NULL, role TEXT NOT NULL, team TEXT NOT NULL, cost_centre TEXT NOT NULL, "from" INTEGER NOT NULL,
  "to" INTEGER NOT NULL, hours_per_day INTEGER, utilisation_target INTEGER, cost_rate INTEGER, billing_rate INTEGER, currency TEXT NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;
CREATE INDEX people_code ON people (code, load_id);

CREATE TABLE labour_rates (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  person TEXT NOT NULL, role TEXT NOT NULL, cost_code TEXT NOT NULL, "from" INTEGER NOT NULL, cost_rate INTEGER, billing_rate INTEGER, currency TEXT NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;

-- Clustered by project, as the ledger is.
CREATE TABLE timesheets (
  project_id INTEGER NOT NULL, load_id INTEGER NOT NULL, row INTEGER NOT NULL,
  person TEXT NOT NULL, date INTEGER NOT NULL, hours INTEGER, activity TEXT NOT NULL, billable TEXT NOT NULL,
  PRIMARY KEY (project_id, load_id, row)
) STRICT, WITHOUT ROWID;

CREATE TABLE allocations (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  node TEXT NOT NULL, year INTEGER, amount INTEGER, currency TEXT NOT NULL, note TEXT NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;

-- Names that people give to a standing plan of money.
CREATE TABLE money_names (
  id INTEGER PRIMARY KEY, project_id INTEGER NOT NULL REFERENCES projects, load_id INTEGER NOT NULL REFERENCES loads,
  name TEXT NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL
) STRICT;
CREATE INDEX money_names_project ON money_names (project_id);
