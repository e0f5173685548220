-- +goose Up
-- What comes in from files is put in unit by unit, each in a transaction of bounded size,
-- and seen by nobody until all of it is there: then one small statement shows it. An
-- import stands here as long as it is under way; what it left is taken out again.
CREATE TABLE imports (
  id    BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  token VARCHAR(40) NOT NULL,
  at    DATETIME(6) NOT NULL
);
ALTER TABLE units
  ADD COLUMN staged BIGINT NULL,
  ADD KEY units_staged (staged);
