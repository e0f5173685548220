-- +goose Up
-- Units that are put away are kept, but out of the way.
ALTER TABLE units
  ADD COLUMN archived_at DATETIME(6) NULL,
  ADD COLUMN archived_by VARCHAR(100) NOT NULL DEFAULT '',
  ADD KEY units_listed (archived_at, changed_at, id),
  ADD KEY units_named (archived_at, name, id),
  ADD KEY units_added (archived_at, created_at, id);

-- What a verdict said, with the evidence and the shop's gears that it came from.
-- All of it is made anew from the readings.
CREATE TABLE verdicts (
  stage_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  evidence VARCHAR(200) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  verdict  JSON NOT NULL,
  CONSTRAINT verdicts_stages FOREIGN KEY (stage_id) REFERENCES stages (id)
);

-- What units are filtered by: ratios, states, families, and when something is due.
CREATE TABLE unit_facts (
  unit_id BIGINT UNSIGNED NOT NULL,
  what    VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  value   VARCHAR(80) NOT NULL,
  PRIMARY KEY (unit_id, what, value),
  KEY unit_facts_value (what, value, unit_id),
  CONSTRAINT unit_facts_units FOREIGN KEY (unit_id) REFERENCES units (id)
);
-- From which change of the unit, and which state of the shop's lists, what it is found
-- by was made: with the unit, so that those left behind are found by an index.
DELETE FROM search_docs;
ALTER TABLE search_docs DROP COLUMN made_from;
ALTER TABLE units
  ADD COLUMN found_from  DATETIME(6) NULL,
  ADD COLUMN found_lists BIGINT NOT NULL DEFAULT -1,
  ADD COLUMN stale       BOOLEAN AS (found_from IS NULL OR found_from <> changed_at) PERSISTENT,
  ADD KEY units_stale (stale, changed_at),
  ADD KEY units_lists (found_lists, changed_at);

CREATE TABLE saved_filters (
  id      BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name    VARCHAR(60)  NOT NULL,
  query   VARCHAR(600) NOT NULL,
  by_name VARCHAR(100) NOT NULL,
  at      DATETIME(6)  NOT NULL,
  UNIQUE KEY saved_filters_name (name)
);
