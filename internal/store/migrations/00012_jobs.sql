-- +goose Up
-- A visit of a unit, from complaint to hand-over.
CREATE TABLE jobs (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  unit_id    BIGINT UNSIGNED NOT NULL,
  complaint  VARCHAR(2000) NOT NULL,
  customer   VARCHAR(200) NOT NULL,
  state      VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  who        VARCHAR(100) NOT NULL,
  by_name    VARCHAR(100) NOT NULL,
  at         DATETIME(6) NOT NULL,
  changed_at DATETIME(6) NOT NULL,
  hand_over  VARCHAR(2000) NOT NULL DEFAULT '',
  closed_at  DATETIME(6) NULL,
  KEY jobs_unit (unit_id, at),
  KEY jobs_open (closed_at, changed_at),
  CONSTRAINT jobs_units FOREIGN KEY (unit_id) REFERENCES units (id)
);

-- What was noted, found, done, read off a meter or served; with a job, or on the
-- unit alone. Append-only.
CREATE TABLE work_entries (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  unit_id    BIGINT UNSIGNED NOT NULL,
  job_id     BIGINT UNSIGNED NULL,
  client_key VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind       VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  what       VARCHAR(100) NOT NULL DEFAULT '',
  part       VARCHAR(60) NOT NULL DEFAULT '',
  text       VARCHAR(2000) NOT NULL DEFAULT '',
  minutes    DOUBLE NULL,
  hours      DOUBLE NULL,
  km         DOUBLE NULL,
  sessions   DOUBLE NULL,
  meter      VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  done_at    DATETIME(6) NOT NULL,
  by_name    VARCHAR(100) NOT NULL,
  at         DATETIME(6) NOT NULL,
  UNIQUE KEY work_entries_key (unit_id, client_key),
  KEY work_entries_job (job_id, id),
  KEY work_entries_kind (unit_id, kind, done_at),
  CONSTRAINT work_entries_units FOREIGN KEY (unit_id) REFERENCES units (id),
  CONSTRAINT work_entries_jobs FOREIGN KEY (job_id) REFERENCES jobs (id)
);
