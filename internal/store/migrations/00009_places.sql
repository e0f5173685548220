-- +goose Up
-- Every stage has its place by now.
ALTER TABLE stages
  MODIFY part  VARCHAR(40) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  MODIFY ratio VARCHAR(40) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  ADD UNIQUE KEY stages_place (unit_id, part, ratio);
