-- +goose Up
-- A unit's name, kind and notes are changed over the version that was seen.
ALTER TABLE units ADD COLUMN version INT NOT NULL DEFAULT 1;

-- A client's key is told apart exactly: by case, accents and blanks at its end.
ALTER TABLE readings MODIFY client_key VARCHAR(60) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL;

-- A counter for each list, raised in the transaction that changes it: numbers
-- of changes are given before they are committed, so the largest of them says
-- nothing about what is missing below it.
CREATE TABLE catalog_marks (
  list VARCHAR(30)     NOT NULL PRIMARY KEY,
  mark BIGINT UNSIGNED NOT NULL
);
INSERT INTO catalog_marks (list, mark) SELECT list, MAX(id) FROM catalog_changes GROUP BY list;
