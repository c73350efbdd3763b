-- +goose Up
-- What the cost of labour is known from: 0 the ledger, 1 timesheets, 2 the plan; and which codes are labour.
ALTER TABLE project_rows ADD COLUMN labour INTEGER NOT NULL DEFAULT 0;
ALTER TABLE cost_code_rows ADD COLUMN labour INTEGER NOT NULL DEFAULT 0;
