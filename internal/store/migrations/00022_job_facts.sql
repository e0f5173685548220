-- +goose Up
-- What is told when a job comes in is the contract's business, not the table's.
ALTER TABLE jobs ADD facts JSON NOT NULL DEFAULT '{}' AFTER complaint;
UPDATE jobs SET facts = JSON_OBJECT('customer', customer) WHERE customer <> '';
ALTER TABLE jobs DROP COLUMN customer;
