-- +goose Up
-- What people practiced: one row for each unit or card, as the server scored it.
CREATE TABLE practice_results (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id  BIGINT UNSIGNED NOT NULL,
  client_key VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  content    CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  result     JSON NOT NULL,
  at         DATETIME(6) NOT NULL,
  UNIQUE KEY practice_results_key (person_id, client_key),
  CONSTRAINT practice_results_people FOREIGN KEY (person_id) REFERENCES people (id)
);

-- Who lets the owner see how far he is. Nobody does before he says so.
CREATE TABLE practice_sharing (
  person_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  CONSTRAINT practice_sharing_people FOREIGN KEY (person_id) REFERENCES people (id)
);

-- Tasks that a teacher made: a unit with its truth and a story.
CREATE TABLE practice_tasks (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  client_key VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  content    CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  task       JSON NOT NULL,
  by_name    VARCHAR(100) NOT NULL,
  at         DATETIME(6) NOT NULL,
  UNIQUE KEY practice_tasks_key (client_key)
);
