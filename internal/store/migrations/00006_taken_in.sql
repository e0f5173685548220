-- +goose Up
-- What came with a document says who took it in, and when: its own names and
-- dates are the document's.
ALTER TABLE units ADD COLUMN taken_in_by VARCHAR(80) NULL, ADD COLUMN taken_in_at DATETIME(6) NULL;
ALTER TABLE readings ADD COLUMN taken_in BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE events ADD COLUMN taken_in BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE decisions ADD COLUMN taken_in BOOLEAN NOT NULL DEFAULT FALSE;
