-- +goose Up
-- Counting a ratio's readings reads no row.
ALTER TABLE readings ADD KEY readings_counted (stage_id, fitting, id);
