-- The tries of a check at a location over a UTC day, packed, to play rules on.

CREATE TABLE tries_day (
  check_id INT UNSIGNED NOT NULL,
  day INT UNSIGNED NOT NULL,
  location_id SMALLINT UNSIGNED NOT NULL,
  content MEDIUMBLOB NOT NULL,
  PRIMARY KEY (check_id, day, location_id),
  KEY by_day (day)
);
