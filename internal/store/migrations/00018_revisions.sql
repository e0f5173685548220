-- +goose Up
-- What is newer is told by a counter, never by a clock: every transaction that
-- writes to a unit raises its revision, and what is made from its records says
-- from which revision.
ALTER TABLE units
  DROP KEY units_stale,
  DROP COLUMN stale,
  DROP COLUMN found_from;
ALTER TABLE units
  ADD COLUMN rev       BIGINT UNSIGNED NOT NULL DEFAULT 1,
  ADD COLUMN found_rev BIGINT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN set_aside VARCHAR(400) NOT NULL DEFAULT '',
  ADD COLUMN stale     BOOLEAN AS (found_rev <> rev) PERSISTENT,
  ADD KEY units_stale (stale, changed_at),
  ADD KEY units_set_aside (set_aside);
