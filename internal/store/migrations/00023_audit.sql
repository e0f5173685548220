-- +goose Up
-- Who signed in, took data out, or changed an account: for the owner. Added to, never changed.
CREATE TABLE audit (
  id        BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at        DATETIME(6)  NOT NULL,
  person_id BIGINT       NOT NULL DEFAULT 0,
  who       VARCHAR(200) NOT NULL,
  what      VARCHAR(40)  NOT NULL,
  about     VARCHAR(400) NOT NULL DEFAULT '',
  address   VARCHAR(64)  NOT NULL DEFAULT '',
  KEY (at)
);
