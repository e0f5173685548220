-- +goose Up
-- How often the shop's list was right, of the housings counted last: what verdicts take
-- the list for. Made anew from the readings.
CREATE TABLE list_counts (
  stage   VARCHAR(120) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL PRIMARY KEY,
  counted INT NOT NULL,
  found   INT NOT NULL
);
ALTER TABLE readings ADD KEY readings_method (method, id);
