-- +goose Up
-- A timesheet may name the cost code whose hourly rate counts where the person and the role have none.
ALTER TABLE timesheets ADD COLUMN cost_code TEXT NOT NULL DEFAULT '';
