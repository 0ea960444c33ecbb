-- What single times usually are, by check, location and phase: median and spread for each hour of the week.

CREATE TABLE usual (
  check_id INT UNSIGNED NOT NULL,
  location_id SMALLINT UNSIGNED NOT NULL,
  phase VARCHAR(10) NOT NULL,
  at BIGINT UNSIGNED NOT NULL,
  content JSON NOT NULL,
  PRIMARY KEY (check_id, location_id, phase)
);
