-- +goose Up
-- Loads that do not count. They are few, so that a long table is read past them rather than by those that do.
CREATE VIEW gone_loads AS SELECT id FROM loads WHERE withdrawn_at IS NOT NULL;
