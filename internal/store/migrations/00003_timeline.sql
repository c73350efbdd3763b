-- +goose Up
-- Why a load was made, where a person said so.
ALTER TABLE loads ADD COLUMN note TEXT NOT NULL DEFAULT '';

-- Milestones and deliverables, for their history over many revisions.
CREATE INDEX activities_events ON activities (revision_id) WHERE kind >= 2;

-- A baseline is the revision that took over its dates, with a name.
CREATE TABLE baselines (
  id INTEGER PRIMARY KEY, project_id INTEGER NOT NULL REFERENCES projects, load_id INTEGER NOT NULL REFERENCES loads,
  name TEXT NOT NULL, reason TEXT NOT NULL, change TEXT NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL
) STRICT;
CREATE INDEX baselines_project ON baselines (project_id);

-- What the two sides of a dependency between projects agreed on; the newest of each holds.
CREATE TABLE agreements (
  id INTEGER PRIMARY KEY, giver TEXT NOT NULL, from_code TEXT NOT NULL, taker TEXT NOT NULL, to_code TEXT NOT NULL,
  promised INTEGER NOT NULL, agreed INTEGER NOT NULL, note TEXT NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL
) STRICT;

CREATE TABLE rehearsals (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, note TEXT NOT NULL, as_of INTEGER NOT NULL, moves TEXT NOT NULL,
  account_id INTEGER NOT NULL, who TEXT NOT NULL, at TEXT NOT NULL, ended_at TEXT
) STRICT;
