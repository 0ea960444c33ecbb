-- What is watched.

CREATE TABLE service (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  service_key VARCHAR(100) NOT NULL UNIQUE,
  document JSON NOT NULL,
  version INT UNSIGNED NOT NULL DEFAULT 1,
  position INT UNSIGNED NOT NULL DEFAULT 0
);

CREATE TABLE check_definition (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  check_key VARCHAR(100) NOT NULL,
  service_id INT UNSIGNED NULL,
  name VARCHAR(200) NOT NULL,
  document JSON NOT NULL,
  version INT UNSIGNED NOT NULL DEFAULT 1,
  created_at BIGINT UNSIGNED NOT NULL,
  changed_at BIGINT UNSIGNED NOT NULL,
  paused_at BIGINT UNSIGNED NULL,
  paused_by INT UNSIGNED NULL,
  muted_at BIGINT UNSIGNED NULL,
  muted_by INT UNSIGNED NULL,
  deleted_at BIGINT UNSIGNED NULL,
  live_key VARCHAR(100) AS (IF(deleted_at IS NULL, check_key, NULL)) PERSISTENT UNIQUE,
  KEY by_service (service_id)
);

CREATE TABLE check_revision (
  check_id INT UNSIGNED NOT NULL,
  version INT UNSIGNED NOT NULL,
  at BIGINT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NULL,
  document JSON NOT NULL,
  PRIMARY KEY (check_id, version)
);

CREATE TABLE check_state (
  check_id INT UNSIGNED NOT NULL PRIMARY KEY,
  state VARCHAR(10) NOT NULL,
  since_at BIGINT UNSIGNED NOT NULL,
  last_pass_at BIGINT UNSIGNED NULL,
  reason VARCHAR(40) NULL,
  sentence VARCHAR(500) NULL,
  failing SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  suspecting SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  locations SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  newest_at BIGINT UNSIGNED NULL
);

CREATE TABLE location_state (
  check_id INT UNSIGNED NOT NULL,
  location_id SMALLINT UNSIGNED NOT NULL,
  memory JSON NOT NULL,
  last JSON NOT NULL,
  PRIMARY KEY (check_id, location_id)
);

-- Every change of state, with the moment it was decided and the moment from which it counts.
CREATE TABLE state_change (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  check_id INT UNSIGNED NOT NULL,
  decided_at BIGINT UNSIGNED NOT NULL,
  since_at BIGINT UNSIGNED NOT NULL,
  last_pass_at BIGINT UNSIGNED NULL,
  from_state VARCHAR(10) NOT NULL,
  to_state VARCHAR(10) NOT NULL,
  reason VARCHAR(40) NULL,
  sentence VARCHAR(500) NULL,
  failing SMALLINT UNSIGNED NOT NULL,
  locations SMALLINT UNSIGNED NOT NULL,
  KEY by_check (check_id, since_at),
  KEY by_time (decided_at)
);
