-- What Hemeron is told by jobs and hosts, and the place from which it judges what only itself can know.

CREATE TABLE inbox (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  check_id INT UNSIGNED NOT NULL,
  at BIGINT NOT NULL,
  -- 0: a call of a job, 1: numbers
  kind TINYINT UNSIGNED NOT NULL,
  payload MEDIUMBLOB NOT NULL,
  KEY by_check (check_id, kind, at),
  KEY by_age (at)
);

-- How often the address that a check is told things at was made anew; the address itself stands nowhere.
CREATE TABLE inlet (
  check_id INT UNSIGNED NOT NULL PRIMARY KEY,
  turn INT UNSIGNED NOT NULL DEFAULT 0
);

-- When Hemeron was last there to be told things, and the last stretch in which it was not.
CREATE TABLE awake (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  until_at BIGINT NOT NULL,
  away_from BIGINT NULL,
  away_to BIGINT NULL
);

INSERT INTO location (location_key, position, place, country, network, network_type, allows_internal, ranges, reference_targets)
VALUES ('hemeron', 65535, 'Hemeron itself', '', 'inside', 'own', 1, '[]', '[]');
