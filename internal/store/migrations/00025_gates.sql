-- +goose Up
-- Stages of models, and what their gates need: the newest standing row of each key counts. What was decided at gates goes by revisions of
-- its project.
CREATE TABLE stages (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  model TEXT NOT NULL, code TEXT NOT NULL, name TEXT NOT NULL, place INTEGER, categories TEXT NOT NULL, decided_by TEXT NOT NULL,
  money_level INTEGER, money_by TEXT NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;
CREATE INDEX stages_code ON stages (model, code, load_id);
CREATE TABLE gate_needs (
  load_id INTEGER NOT NULL REFERENCES loads, row INTEGER NOT NULL,
  model TEXT NOT NULL, stage TEXT NOT NULL, code TEXT NOT NULL, name TEXT NOT NULL, need TEXT NOT NULL, "of" TEXT NOT NULL,
  PRIMARY KEY (load_id, row)
) STRICT, WITHOUT ROWID;
CREATE INDEX gate_needs_code ON gate_needs (model, stage, code, load_id);
CREATE TABLE gates (
  revision_id INTEGER NOT NULL REFERENCES revisions, row INTEGER NOT NULL,
  stage TEXT NOT NULL, asked_on INTEGER NOT NULL, asked_by TEXT NOT NULL, decision TEXT NOT NULL, decided_on INTEGER NOT NULL,
  decided_by TEXT NOT NULL, reason TEXT NOT NULL, released INTEGER, currency TEXT NOT NULL,
  PRIMARY KEY (revision_id, row)
) STRICT, WITHOUT ROWID;
-- What a project was when it passed a gate: its figures, and what they can be computed from again.
CREATE TABLE snapshots (
  id INTEGER PRIMARY KEY, project_id INTEGER NOT NULL REFERENCES projects, stage TEXT NOT NULL, as_of INTEGER NOT NULL,
  load_id INTEGER NOT NULL, period INTEGER NOT NULL, serial INTEGER NOT NULL, rules INTEGER NOT NULL, settings TEXT NOT NULL,
  at TEXT NOT NULL, who TEXT NOT NULL, figures TEXT NOT NULL, digest TEXT NOT NULL
) STRICT;
CREATE INDEX snapshots_project ON snapshots (project_id);
