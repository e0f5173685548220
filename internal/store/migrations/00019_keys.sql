-- +goose Up
-- A key belongs to its place: a job's lines, the lines of a unit without a job, the
-- jobs of a unit. What came under it is told by a digest of what was sent, so that
-- the same is kept once and anything else under a used key is refused.
ALTER TABLE jobs
  ADD COLUMN client_key VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD COLUMN content    CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  ADD UNIQUE KEY jobs_key (unit_id, client_key);
UPDATE jobs j JOIN work_entries w ON w.id = (SELECT MIN(f.id) FROM work_entries f WHERE f.job_id = j.id) SET j.client_key = w.client_key;
ALTER TABLE work_entries
  ADD COLUMN content CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  ADD COLUMN place   BIGINT UNSIGNED AS (COALESCE(job_id, 0)) PERSISTENT,
  ADD UNIQUE KEY work_entries_place (unit_id, place, client_key),
  DROP KEY work_entries_key;
ALTER TABLE photos       ADD COLUMN content CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '';
ALTER TABLE card_entries ADD COLUMN content CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '';
-- The program's own keys have a stroke in them, which nobody's key may have.
UPDATE work_entries SET client_key = CONCAT('closed/', job_id) WHERE kind = 'closed' AND client_key = CONCAT('closed-', job_id);
UPDATE work_entries SET client_key = REPLACE(client_key, 'document-', 'document/') WHERE client_key LIKE 'document-%';
UPDATE photos       SET client_key = REPLACE(client_key, 'document-', 'document/') WHERE client_key LIKE 'document-%';
UPDATE card_entries SET client_key = REPLACE(client_key, 'document-', 'document/') WHERE client_key LIKE 'document-%';
UPDATE jobs         SET client_key = REPLACE(client_key, 'document-', 'document/') WHERE client_key LIKE 'document-%';

-- A sign-in name is told apart exactly: it is looked up as its tries are counted.
UPDATE people SET sign_in = LOWER(sign_in);
ALTER TABLE people
  MODIFY sign_in VARCHAR(60) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  ADD COLUMN version INT NOT NULL DEFAULT 1;
