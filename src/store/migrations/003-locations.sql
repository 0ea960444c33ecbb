-- Where checks run.

CREATE TABLE location (
  id SMALLINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  location_key VARCHAR(100) NOT NULL UNIQUE,
  place VARCHAR(100) NOT NULL,
  country CHAR(2) NOT NULL,
  network VARCHAR(100) NOT NULL,
  network_type ENUM('transit', 'access', 'mobile', 'hosting', 'own') NOT NULL,
  allows_internal TINYINT NOT NULL DEFAULT 0,
  position SMALLINT UNSIGNED NOT NULL DEFAULT 0
);

CREATE TABLE probe (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(100) NOT NULL,
  token_hash BINARY(32) NOT NULL UNIQUE,
  created_at BIGINT UNSIGNED NOT NULL,
  seen_at BIGINT UNSIGNED NULL,
  version VARCHAR(30) NULL
);

CREATE TABLE probe_location (
  probe_id INT UNSIGNED NOT NULL,
  location_id SMALLINT UNSIGNED NOT NULL,
  PRIMARY KEY (probe_id, location_id)
);

-- Of several probes at a location one runs its checks; the others stand by.
CREATE TABLE location_lease (
  location_id SMALLINT UNSIGNED NOT NULL PRIMARY KEY,
  probe_id INT UNSIGNED NOT NULL,
  until_at BIGINT UNSIGNED NOT NULL
);
