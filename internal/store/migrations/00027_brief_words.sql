-- +goose Up
-- Short words are kept in a form that the index of full text takes: every unit is made
-- findable anew.
UPDATE units SET found_rev = 0;
