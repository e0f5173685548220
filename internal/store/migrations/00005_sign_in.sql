-- +goose Up
-- Tries are counted per account and place: an address, or a device that signed
-- in before. A stranger's tries are no hindrance to anyone elsewhere.
CREATE TABLE sign_in_tries (
  sign_in VARCHAR(60) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  place   VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  tries   INT         NOT NULL,
  last_at DATETIME(6) NOT NULL,
  PRIMARY KEY (sign_in, place),
  KEY sign_in_tries_place (place, last_at),
  KEY sign_in_tries_age (last_at)
);
DROP TABLE sign_in_failures;

-- A device that a person signed in on, by the hash of what it keeps.
CREATE TABLE known_devices (
  token   CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  person  BIGINT UNSIGNED NOT NULL,
  seen_at DATETIME(6)     NOT NULL,
  KEY known_devices_person (person, seen_at),
  CONSTRAINT known_devices_of_person FOREIGN KEY (person) REFERENCES people (id)
);

-- Tokens are told apart exactly.
ALTER TABLE sessions MODIFY token CHAR(43) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;

-- Raised when an account is switched off: what was signed in then stays out
-- when it is switched on again.
ALTER TABLE people ADD COLUMN era INT NOT NULL DEFAULT 0;
