-- +goose Up
-- Activities have a priority, and a state where their dates do not tell it: on hold, or cancelled.
ALTER TABLE activities ADD COLUMN priority TEXT NOT NULL DEFAULT '';
ALTER TABLE activities ADD COLUMN state TEXT NOT NULL DEFAULT '';
