-- Times are milliseconds since 1970 in UTC. Every table has a primary key; no key needs to be without gaps.

CREATE TABLE setting (
  name VARCHAR(60) NOT NULL PRIMARY KEY,
  value JSON NOT NULL
);

CREATE TABLE counter (
  name VARCHAR(60) NOT NULL PRIMARY KEY,
  value BIGINT UNSIGNED NOT NULL
);
INSERT INTO counter (name, value) VALUES ('definitions', 1);
