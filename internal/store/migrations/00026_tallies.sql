-- +goose Up
-- What a page of the list shows of a ratio's readings stands with the ratio, so that the
-- page costs what it shows: how many there are, the newest, how many are voided, and how
-- many stand of what is fitted now. Whatever writes readings writes these (store.tally).
ALTER TABLE stages
  ADD COLUMN taken    INT    NOT NULL DEFAULT 0,
  ADD COLUMN newest   BIGINT NOT NULL DEFAULT 0,
  ADD COLUMN struck   INT    NOT NULL DEFAULT 0,
  ADD COLUMN standing INT    NOT NULL DEFAULT 0;
UPDATE stages s SET
  s.taken = (SELECT COUNT(*) FROM readings r WHERE r.stage_id = s.id),
  s.newest = (SELECT COALESCE(MAX(r.id), 0) FROM readings r WHERE r.stage_id = s.id),
  s.struck = (SELECT COUNT(*) FROM readings r JOIN strikes x ON x.reading_id = r.id WHERE r.stage_id = s.id),
  s.standing = (SELECT COUNT(*) FROM readings r LEFT JOIN strikes x ON x.reading_id = r.id
    WHERE r.stage_id = s.id AND x.reading_id IS NULL AND r.fitting <=> s.since);
