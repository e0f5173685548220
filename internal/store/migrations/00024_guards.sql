-- +goose Up
-- A counter is raised by whatever rests on how many there are of something, so that two
-- who do it at once get in each other's way: at one server, and at two nodes of a cluster.
CREATE TABLE guards (
  name VARCHAR(40) NOT NULL PRIMARY KEY,
  n    BIGINT      NOT NULL
);
