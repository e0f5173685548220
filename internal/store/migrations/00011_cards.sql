-- +goose Up
-- A card of the shop's own, every version of it.
CREATE TABLE cards (
  id       BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  card     VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  version  INT NOT NULL,
  title    VARCHAR(400) NOT NULL,
  document JSON NOT NULL,
  by_name  VARCHAR(100) NOT NULL,
  at       DATETIME(6) NOT NULL,
  UNIQUE KEY cards_version (card, version)
);

-- A card that is being done on a unit; it carries the document by which it is
-- done.
CREATE TABLE card_runs (
  id        BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  unit_id   BIGINT UNSIGNED NOT NULL,
  part      VARCHAR(60) NOT NULL,
  card      VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  version   INT NOT NULL,
  title     VARCHAR(400) NOT NULL,
  document  JSON NOT NULL,
  answers   JSON NOT NULL,
  by_name   VARCHAR(100) NOT NULL,
  at        DATETIME(6) NOT NULL,
  closed_by VARCHAR(100) NULL,
  closed_at DATETIME(6) NULL,
  KEY card_runs_unit (unit_id, at),
  CONSTRAINT card_runs_units FOREIGN KEY (unit_id) REFERENCES units (id)
);

-- What was done at it; append-only, taking back is an entry too.
CREATE TABLE card_entries (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  run_id     BIGINT UNSIGNED NOT NULL,
  client_key VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind       VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  step       VARCHAR(60) NOT NULL,
  figure     VARCHAR(200) NOT NULL,
  note       VARCHAR(400) NOT NULL,
  by_name    VARCHAR(100) NOT NULL,
  at         DATETIME(6) NOT NULL,
  UNIQUE KEY card_entries_key (run_id, client_key),
  CONSTRAINT card_entries_runs FOREIGN KEY (run_id) REFERENCES card_runs (id)
);
