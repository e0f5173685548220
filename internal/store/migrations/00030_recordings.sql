-- +goose Up
-- Recordings of a unit's drives: what was heard, with the speed and the vehicle that it
-- was named by, and what it was named then.
CREATE TABLE recordings (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  unit_id    BIGINT UNSIGNED NOT NULL,
  client_key VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  content    CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  title      VARCHAR(400) NOT NULL,
  seconds    DOUBLE NOT NULL,
  bytes      INT NOT NULL,
  drive      JSON NOT NULL,
  named       VARCHAR(1000) NOT NULL,
  by_name    VARCHAR(100) NOT NULL,
  at         DATETIME(6) NOT NULL,
  UNIQUE KEY recordings_key (unit_id, client_key),
  KEY recordings_unit (unit_id, at),
  CONSTRAINT recordings_units FOREIGN KEY (unit_id) REFERENCES units (id)
);

-- The sounds themselves, apart, so that lists stay small.
CREATE TABLE recording_sounds (
  recording_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  data         LONGBLOB NOT NULL,
  CONSTRAINT recording_sounds_recordings FOREIGN KEY (recording_id) REFERENCES recordings (id)
);
