-- +goose Up
-- A stage is one ratio of a part of the unit's driveline. One whose part was
-- taken out of the driveline keeps its readings and is present no longer.
ALTER TABLE stages
  ADD COLUMN part    VARCHAR(40) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL,
  ADD COLUMN ratio   VARCHAR(40) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL,
  ADD COLUMN present BOOLEAN NOT NULL DEFAULT TRUE,
  ADD COLUMN since   BIGINT UNSIGNED NULL;

-- Append-only: what was fitted in a part's place, or into its housing. Readings
-- from before stay with what they were taken of: a reading counts while its
-- fitting is the newest of its part.
CREATE TABLE fittings (
  id       BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  unit_id  BIGINT UNSIGNED NOT NULL,
  part     VARCHAR(40) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  what     VARCHAR(20)  NOT NULL,
  note     VARCHAR(400) NOT NULL DEFAULT '',
  former   JSON         NOT NULL,
  by_name  VARCHAR(80)  NOT NULL,
  at       DATETIME(6)  NOT NULL,
  taken_in BOOLEAN      NOT NULL DEFAULT FALSE,
  KEY fittings_unit (unit_id, part, id),
  CONSTRAINT fittings_of_unit FOREIGN KEY (unit_id) REFERENCES units (id)
);
ALTER TABLE readings ADD COLUMN fitting BIGINT UNSIGNED NULL;
