-- +goose Up
-- What an act has made or changed, as digests of the rows; the entry's own digest covers it.
ALTER TABLE audit ADD COLUMN made TEXT NOT NULL DEFAULT '';

-- By which rules figures and digests were made: 1 until digests went by internal numbers, 2 since they go by codes.
ALTER TABLE periods ADD COLUMN rules INTEGER NOT NULL DEFAULT 1;
DROP VIEW standing_periods;
CREATE VIEW standing_periods AS SELECT * FROM periods WHERE reopened_at IS NULL;
