-- +goose Up
-- What work an amount belongs to.
ALTER TABLE plan_lines ADD COLUMN activity TEXT NOT NULL DEFAULT '';
ALTER TABLE postings ADD COLUMN activity TEXT NOT NULL DEFAULT '';
ALTER TABLE commitments ADD COLUMN activity TEXT NOT NULL DEFAULT '';
