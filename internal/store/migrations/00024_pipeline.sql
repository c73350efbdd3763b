-- +goose Up
-- Goals and criteria: the newest standing row of each key counts. What is proposed, does for goals, is rated and required goes by revisions
-- of its project.
CREATE TABLE goals (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  code TEXT NOT NULL, name TEXT NOT NULL, weight INTEGER, owner TEXT NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;
CREATE INDEX goals_code ON goals (code, load_id);
CREATE TABLE criteria (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  model TEXT NOT NULL, code TEXT NOT NULL, name TEXT NOT NULL, weight INTEGER, direction TEXT NOT NULL, lowest INTEGER, highest INTEGER,
  measure TEXT NOT NULL, anchors TEXT NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;
CREATE INDEX criteria_code ON criteria (model, code, load_id);
CREATE TABLE proposals (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  asked_by TEXT NOT NULL, asked_on INTEGER NOT NULL, purpose TEXT NOT NULL, template TEXT NOT NULL, decision TEXT NOT NULL,
  decided_on INTEGER NOT NULL, decided_by TEXT NOT NULL, reason TEXT NOT NULL, look_again INTEGER NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
CREATE TABLE contributions (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  goal TEXT NOT NULL, rating INTEGER, statement TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
CREATE TABLE ratings (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  model TEXT NOT NULL, criterion TEXT NOT NULL, rating INTEGER,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
CREATE TABLE requirements (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  kind TEXT NOT NULL, other TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
