-- +goose Up
-- The postings of each load in each project, added up by code, centre, currency and month, so that assessing need not read them all.
CREATE TABLE ledger_sums (
  project_id INTEGER NOT NULL, load_id INTEGER NOT NULL, sums BLOB NOT NULL,
  PRIMARY KEY (project_id, load_id)
) STRICT, WITHOUT ROWID;
