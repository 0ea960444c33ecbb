-- Work that is waiting.

CREATE TABLE run_request (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  check_id INT UNSIGNED NOT NULL,
  location_id SMALLINT UNSIGNED NOT NULL,
  at BIGINT UNSIGNED NOT NULL,
  occasion TINYINT UNSIGNED NOT NULL,
  taken_at BIGINT UNSIGNED NULL,
  KEY by_location (location_id, at),
  UNIQUE KEY once (check_id, location_id, at)
);

CREATE TABLE try_request (
  id CHAR(32) NOT NULL PRIMARY KEY,
  at BIGINT UNSIGNED NOT NULL,
  document JSON NOT NULL
);

CREATE TABLE try_result (
  try_id CHAR(32) NOT NULL,
  location_id SMALLINT UNSIGNED NOT NULL,
  taken_at BIGINT UNSIGNED NULL,
  observation MEDIUMBLOB NULL,
  PRIMARY KEY (try_id, location_id)
);
