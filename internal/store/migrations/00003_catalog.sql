-- +goose Up
-- The shop's lists. A row's cells are text by column, as package catalog
-- writes them; identity tells the rows of a list apart.
CREATE TABLE catalog_rows (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  list       VARCHAR(30)  NOT NULL,
  identity   VARCHAR(400) COLLATE utf8mb4_bin NOT NULL,
  cells      JSON         NOT NULL,
  version    INT          NOT NULL DEFAULT 1,
  UNIQUE KEY catalog_rows_identity (list, identity)
);

-- Append-only: every change of the shop's lists, with who and when.
CREATE TABLE catalog_changes (
  id      BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  list    VARCHAR(30)  NOT NULL,
  row_id  BIGINT UNSIGNED NOT NULL,
  what    ENUM('added','changed','removed') NOT NULL,
  before_cells JSON    NULL,
  after_cells  JSON    NULL,
  by_name VARCHAR(80)  NOT NULL,
  at      DATETIME(6)  NOT NULL,
  KEY catalog_changes_list (list, id),
  KEY catalog_changes_row (row_id, id)
);

-- How far a file has been taken in, for whoever waits for it.
CREATE TABLE catalog_imports (
  token VARCHAR(60) NOT NULL PRIMARY KEY,
  total INT         NOT NULL,
  done  INT         NOT NULL,
  at    DATETIME(6) NOT NULL
);

-- Append-only: what was decided for a unit, with everything it was based on.
CREATE TABLE decisions (
  id       BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  unit_id  BIGINT UNSIGNED NOT NULL,
  kind     ENUM('regear','speedometer','calibration','check') NOT NULL,
  title    VARCHAR(200)  NOT NULL,
  note     VARCHAR(1000) NOT NULL DEFAULT '',
  question JSON          NOT NULL,
  answer   JSON          NOT NULL,
  by_name  VARCHAR(80)   NOT NULL,
  at       DATETIME(6)   NOT NULL,
  KEY decisions_unit (unit_id, at, id),
  CONSTRAINT decisions_of_unit FOREIGN KEY (unit_id) REFERENCES units (id)
);

-- Gear sets become a list among the others. Their names were family and teeth.
INSERT IGNORE INTO catalog_rows (list, identity, cells)
SELECT 'gear_sets', LOWER(CONCAT_WS('|', family, kind, position, construction, teeth)),
  JSON_OBJECT('family', family, 'kind', kind, 'position', position, 'construction', construction, 'teeth', teeth, 'weight', weight, 'shelf', '0')
FROM (
  SELECT IF(LOCATE(' ', name) > 0, LEFT(name, CHAR_LENGTH(name) - CHAR_LENGTH(SUBSTRING_INDEX(name, ' ', -1)) - 1), name) AS family,
    kind, position, construction, REPLACE(REPLACE(REPLACE(REPLACE(teeth, ' ', ''), '[', ''), ']', ''), ',', '-') AS teeth,
    CAST(weight AS CHAR) AS weight, id
  FROM gear_sets ORDER BY id
) AS old;
DROP TABLE gear_sets;
