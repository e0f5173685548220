-- +goose Up
CREATE TABLE people (
  id            BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sign_in       VARCHAR(60)  NOT NULL,
  name          VARCHAR(80)  NOT NULL,
  role          ENUM('owner','technician','viewer') NOT NULL,
  password_hash VARCHAR(255) NOT NULL,
  active        BOOLEAN      NOT NULL DEFAULT TRUE,
  created_at    DATETIME(6)  NOT NULL,
  UNIQUE KEY people_sign_in (sign_in)
);

CREATE TABLE sessions (
  token  CHAR(43)     NOT NULL PRIMARY KEY,
  data   BLOB         NOT NULL,
  expiry TIMESTAMP(6) NOT NULL,
  KEY sessions_expiry (expiry)
);

CREATE TABLE sign_in_failures (
  id      BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sign_in VARCHAR(60) NOT NULL,
  address VARCHAR(64) NOT NULL,
  at      DATETIME(6) NOT NULL,
  KEY sign_in_failures_account (sign_in, at),
  KEY sign_in_failures_address (address, at)
);

CREATE TABLE units (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name       VARCHAR(80)   NOT NULL,
  kind       ENUM('truck','van','car','boat','part','other') NOT NULL,
  notes      VARCHAR(4000) NOT NULL DEFAULT '',
  created_at DATETIME(6)   NOT NULL,
  changed_at DATETIME(6)   NOT NULL,
  KEY units_changed (changed_at, id)
);

CREATE TABLE stages (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  unit_id    BIGINT UNSIGNED NOT NULL,
  ordinal    INT          NOT NULL,
  name       VARCHAR(80)  NOT NULL,
  kind       VARCHAR(30)  NOT NULL,
  position   VARCHAR(10)  NOT NULL DEFAULT '',
  held       VARCHAR(10)  NOT NULL DEFAULT '',
  input      VARCHAR(10)  NOT NULL DEFAULT '',
  KEY stages_line (unit_id, ordinal, id),
  CONSTRAINT stages_unit FOREIGN KEY (unit_id) REFERENCES units (id)
);

-- Append-only: no statement of the application updates or deletes a row here.
CREATE TABLE readings (
  id        BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  stage_id  BIGINT UNSIGNED NOT NULL,
  method    VARCHAR(10)   NOT NULL,
  data      JSON          NOT NULL,
  note      VARCHAR(400)  NOT NULL DEFAULT '',
  blind     BOOLEAN       NOT NULL DEFAULT FALSE,
  client_key VARCHAR(60)  NULL,
  by_name   VARCHAR(80)   NOT NULL,
  at        DATETIME(6)   NOT NULL,
  UNIQUE KEY readings_client_key (stage_id, client_key),
  KEY readings_stage (stage_id, id),
  CONSTRAINT readings_of_stage FOREIGN KEY (stage_id) REFERENCES stages (id)
);

CREATE TABLE strikes (
  reading_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  by_name    VARCHAR(80)  NOT NULL,
  at         DATETIME(6)  NOT NULL,
  reason     VARCHAR(400) NOT NULL,
  CONSTRAINT strikes_reading FOREIGN KEY (reading_id) REFERENCES readings (id)
);

CREATE TABLE events (
  id       BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  unit_id  BIGINT UNSIGNED NOT NULL,
  stage_id BIGINT UNSIGNED NULL,
  stage    VARCHAR(80)   NOT NULL DEFAULT '',
  what     VARCHAR(20)   NOT NULL,
  text     VARCHAR(1000) NOT NULL,
  by_name  VARCHAR(80)   NOT NULL,
  at       DATETIME(6)   NOT NULL,
  KEY events_unit (unit_id, at, id),
  CONSTRAINT events_of_unit FOREIGN KEY (unit_id) REFERENCES units (id)
);

CREATE TABLE gear_sets (
  id           BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name         VARCHAR(80) NOT NULL,
  kind         VARCHAR(30) NOT NULL,
  position     VARCHAR(10) NOT NULL DEFAULT '',
  construction VARCHAR(30) NOT NULL,
  teeth        JSON        NOT NULL,
  weight       DOUBLE      NOT NULL DEFAULT 1,
  KEY gear_sets_stage (kind, position)
);
