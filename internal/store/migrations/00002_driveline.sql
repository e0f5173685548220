-- +goose Up
-- Append-only: every version of a unit's driveline stays; the newest counts.
CREATE TABLE drivelines (
  id       BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  unit_id  BIGINT UNSIGNED NOT NULL,
  version  INT          NOT NULL,
  document JSON         NOT NULL,
  states   JSON         NOT NULL,
  note     VARCHAR(400) NOT NULL DEFAULT '',
  by_name  VARCHAR(80)  NOT NULL,
  at       DATETIME(6)  NOT NULL,
  UNIQUE KEY drivelines_version (unit_id, version),
  CONSTRAINT drivelines_of_unit FOREIGN KEY (unit_id) REFERENCES units (id)
);

CREATE TABLE shop_parts (
  id    BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind  VARCHAR(30)  NOT NULL,
  maker VARCHAR(60)  NOT NULL DEFAULT '',
  name  VARCHAR(80)  NOT NULL,
  notes VARCHAR(400) NOT NULL DEFAULT '',
  part  JSON         NOT NULL,
  UNIQUE KEY shop_parts_name (kind, maker, name)
);
