-- +goose Up
-- Which kinds of record there are is the benches' to say.
ALTER TABLE decisions MODIFY kind VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
