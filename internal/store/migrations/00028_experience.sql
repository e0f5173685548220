-- +goose Up
-- What other shops found, one file a shop; and the mark that tells this shop's own file
-- from theirs. It is drawn once and says nothing of the shop.
CREATE TABLE experience (
  id      BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop    VARCHAR(64) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  number  BIGINT      NOT NULL,
  file    MEDIUMTEXT  NOT NULL,
  by_name VARCHAR(80) NOT NULL,
  at      DATETIME(6) NOT NULL,
  UNIQUE KEY experience_shop (shop)
);
CREATE TABLE shop_mark (
  id   TINYINT NOT NULL PRIMARY KEY,
  shop CHAR(32) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL
);
INSERT INTO shop_mark (id, shop) VALUES (1, LEFT(SHA2(CONCAT(UUID(), RAND(), NOW(6)), 256), 32));
