-- +goose Up
-- What a unit is found by: made anew from everything else, never the other way.
CREATE TABLE search_docs (
  unit_id   BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  made_from DATETIME(6) NOT NULL,
  name      VARCHAR(400) NOT NULL,
  body      MEDIUMTEXT NOT NULL,
  FULLTEXT KEY search_docs_name (name),
  FULLTEXT KEY search_docs_all (name, body),
  CONSTRAINT search_docs_units FOREIGN KEY (unit_id) REFERENCES units (id)
);
