-- +goose Up
-- The addresses of outside systems with what they ask for to let us in. Settings have them without it; nothing shows or exports this.
CREATE TABLE secrets (name TEXT NOT NULL PRIMARY KEY, address TEXT NOT NULL) STRICT, WITHOUT ROWID;
