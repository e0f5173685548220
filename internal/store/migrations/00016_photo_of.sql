-- +goose Up
-- A photo may show what a reading was read from, what a line of a job says, or how
-- a step of a card stood.
ALTER TABLE photos
  ADD COLUMN reading_id BIGINT UNSIGNED NULL,
  ADD COLUMN work_id    BIGINT UNSIGNED NULL,
  ADD COLUMN run_id     BIGINT UNSIGNED NULL,
  ADD COLUMN step       VARCHAR(60) NOT NULL DEFAULT '',
  ADD CONSTRAINT photos_readings FOREIGN KEY (reading_id) REFERENCES readings (id),
  ADD CONSTRAINT photos_work FOREIGN KEY (work_id) REFERENCES work_entries (id),
  ADD CONSTRAINT photos_runs FOREIGN KEY (run_id) REFERENCES card_runs (id);
