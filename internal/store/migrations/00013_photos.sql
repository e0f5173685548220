-- +goose Up
CREATE TABLE photos (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  unit_id    BIGINT UNSIGNED NOT NULL,
  job_id     BIGINT UNSIGNED NULL,
  client_key VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  part       VARCHAR(60) NOT NULL DEFAULT '',
  title      VARCHAR(400) NOT NULL DEFAULT '',
  width      INT NOT NULL,
  height     INT NOT NULL,
  bytes      INT NOT NULL,
  marks      JSON NOT NULL,
  version    INT NOT NULL DEFAULT 1,
  by_name    VARCHAR(100) NOT NULL,
  at         DATETIME(6) NOT NULL,
  UNIQUE KEY photos_key (unit_id, client_key),
  KEY photos_unit (unit_id, at),
  KEY photos_job (job_id, id),
  CONSTRAINT photos_units FOREIGN KEY (unit_id) REFERENCES units (id),
  CONSTRAINT photos_jobs FOREIGN KEY (job_id) REFERENCES jobs (id)
);

-- The pictures themselves, apart, so that lists stay small.
CREATE TABLE photo_blobs (
  photo_id BIGINT UNSIGNED NOT NULL,
  size     ENUM('full','thumb') NOT NULL,
  data     LONGBLOB NOT NULL,
  PRIMARY KEY (photo_id, size),
  CONSTRAINT photo_blobs_photos FOREIGN KEY (photo_id) REFERENCES photos (id)
);
