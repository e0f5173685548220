-- +goose Up
-- Live counts: what sensors and phones gave while somebody turned. A session's revision
-- grows with everything that comes to it, so that any server can tell what is new; a
-- chunk has the revision that it made. A join is a phone that may add to one shaft of
-- one session, and nothing else. All times within a session are seconds since its zero by
-- the database's clock, which all servers share.
CREATE TABLE live_sessions (
  id       BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  title    VARCHAR(120) NOT NULL,
  stage_id BIGINT UNSIGNED NULL,
  setup    TEXT         NOT NULL,
  version  INT          NOT NULL DEFAULT 1,
  secret   BINARY(32)   NOT NULL,
  sensors  BOOLEAN      NOT NULL,
  ended    BOOLEAN      NOT NULL DEFAULT FALSE,
  kept     BOOLEAN      NOT NULL DEFAULT FALSE,
  revision BIGINT       NOT NULL DEFAULT 0,
  points   INT          NOT NULL DEFAULT 0,
  by_name  VARCHAR(80)  NOT NULL,
  at       DATETIME(6)  NOT NULL,
  zero     DOUBLE       NOT NULL,
  KEY live_sessions_open (ended, id),
  CONSTRAINT live_sessions_stage FOREIGN KEY (stage_id) REFERENCES stages (id)
);
CREATE TABLE live_joins (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  session_id BIGINT UNSIGNED NOT NULL,
  shaft      VARCHAR(8)   NOT NULL,
  token      BINARY(32)   NOT NULL,
  at         DATETIME(6)  NOT NULL,
  UNIQUE KEY live_joins_shaft (session_id, shaft),
  CONSTRAINT live_joins_session FOREIGN KEY (session_id) REFERENCES live_sessions (id) ON DELETE CASCADE
);
CREATE TABLE live_chunks (
  session_id BIGINT UNSIGNED NOT NULL,
  revision   BIGINT       NOT NULL,
  sources    MEDIUMTEXT   NOT NULL,
  PRIMARY KEY (session_id, revision),
  CONSTRAINT live_chunks_session FOREIGN KEY (session_id) REFERENCES live_sessions (id) ON DELETE CASCADE
);
-- How the shaft sensors' line is, told by the one server that listens to it.
CREATE TABLE live_line (
  id        TINYINT      NOT NULL PRIMARY KEY,
  address   VARCHAR(200) NOT NULL,
  connected BOOLEAN      NOT NULL,
  trouble   VARCHAR(200) NOT NULL,
  channels  VARCHAR(200) NOT NULL
);
INSERT INTO live_line (id, address, connected, trouble, channels) VALUES (1, '', FALSE, '', '[]');
