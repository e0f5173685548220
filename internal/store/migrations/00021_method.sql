-- +goose Up
-- What a method is called is the program's business, not the table's.
ALTER TABLE readings MODIFY method VARCHAR(60) NOT NULL;
