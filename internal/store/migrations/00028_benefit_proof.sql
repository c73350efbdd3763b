-- +goose Up
-- How what came of a benefit is counted.
ALTER TABLE benefits ADD COLUMN proof TEXT NOT NULL DEFAULT '';
