-- What each step of a try took, for kinds that do several things one after the other.
CREATE TABLE observation_step (
  check_id INT UNSIGNED NOT NULL,
  location_id SMALLINT UNSIGNED NOT NULL,
  at BIGINT UNSIGNED NOT NULL,
  place TINYINT UNSIGNED NOT NULL,
  name_id INT UNSIGNED NOT NULL,
  took_us INT UNSIGNED NOT NULL,
  status SMALLINT UNSIGNED NULL,
  failed BOOLEAN NOT NULL,
  PRIMARY KEY (check_id, location_id, at, place)
) PARTITION BY RANGE (at) (PARTITION before_all VALUES LESS THAN (0));
