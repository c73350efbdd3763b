-- +goose Up
-- People work by a calendar of their own, that of the organisation where none is named.
ALTER TABLE people ADD COLUMN calendar TEXT NOT NULL DEFAULT '';
