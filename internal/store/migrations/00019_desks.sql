-- +goose Up
-- What stood on somebody's desk when they looked, and when they looked the time before; one row each, written over.
CREATE TABLE desks (
  login TEXT PRIMARY KEY,
  seen_at TEXT NOT NULL,
  seen TEXT NOT NULL,
  former_at TEXT NOT NULL,
  former TEXT NOT NULL
) STRICT;

-- +goose Down
DROP TABLE desks;
