-- What was observed.

-- Batches from probes, acknowledged once they stand here; an engine works them off in one transaction each.
CREATE TABLE arrival (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  share TINYINT UNSIGNED NOT NULL,
  at BIGINT UNSIGNED NOT NULL,
  payload MEDIUMBLOB NOT NULL,
  KEY by_share (share, id)
);

CREATE TABLE share_lease (
  share TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  engine VARCHAR(60) NOT NULL DEFAULT '',
  until_at BIGINT UNSIGNED NOT NULL DEFAULT 0
);
INSERT INTO share_lease (share) VALUES (0), (1), (2), (3), (4), (5), (6), (7), (100), (101);

CREATE TABLE dictionary (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  text_hash BINARY(20) NOT NULL UNIQUE,
  text VARCHAR(600) NOT NULL
);

CREATE TABLE observation (
  check_id INT UNSIGNED NOT NULL,
  location_id SMALLINT UNSIGNED NOT NULL,
  at BIGINT UNSIGNED NOT NULL,
  occasion TINYINT UNSIGNED NOT NULL,
  verdict TINYINT UNSIGNED NOT NULL,
  reason_id INT UNSIGNED NULL,
  sentence_id INT UNSIGNED NULL,
  status SMALLINT UNSIGNED NULL,
  lookup_us INT UNSIGNED NULL,
  connect_us INT UNSIGNED NULL,
  tls_us INT UNSIGNED NULL,
  wait_us INT UNSIGNED NULL,
  receive_us INT UNSIGNED NULL,
  total_us INT UNSIGNED NOT NULL,
  address_id INT UNSIGNED NULL,
  server_id INT UNSIGNED NULL,
  protocol_id INT UNSIGNED NULL,
  sent_bytes INT UNSIGNED NULL,
  received_bytes INT UNSIGNED NULL,
  certificate_end BIGINT UNSIGNED NULL,
  version INT UNSIGNED NOT NULL,
  PRIMARY KEY (check_id, location_id, at)
) PARTITION BY RANGE (at) (PARTITION before_all VALUES LESS THAN (0));

CREATE TABLE evidence (
  check_id INT UNSIGNED NOT NULL,
  location_id SMALLINT UNSIGNED NOT NULL,
  at BIGINT UNSIGNED NOT NULL,
  content MEDIUMBLOB NOT NULL,
  PRIMARY KEY (check_id, location_id, at)
) PARTITION BY RANGE (at) (PARTITION before_all VALUES LESS THAN (0));

-- location_id 0 holds all locations together.
CREATE TABLE rollup (
  check_id INT UNSIGNED NOT NULL,
  location_id SMALLINT UNSIGNED NOT NULL,
  span ENUM('5m', '1h', '1d') NOT NULL,
  at BIGINT UNSIGNED NOT NULL,
  passes INT UNSIGNED NOT NULL,
  warns INT UNSIGNED NOT NULL,
  slows INT UNSIGNED NOT NULL,
  fails INT UNSIGNED NOT NULL,
  lookup_sketch BLOB NULL,
  connect_sketch BLOB NULL,
  tls_sketch BLOB NULL,
  wait_sketch BLOB NULL,
  receive_sketch BLOB NULL,
  total_sketch BLOB NULL,
  PRIMARY KEY (check_id, span, location_id, at),
  KEY by_time (span, at)
);

-- Windows that have to be rolled up again, because observations came late or the window has just ended.
CREATE TABLE rollup_due (
  check_id INT UNSIGNED NOT NULL,
  at BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (check_id, at)
);

-- One location in trouble of one kind without a break.
CREATE TABLE stretch (
  check_id INT UNSIGNED NOT NULL,
  location_id SMALLINT UNSIGNED NOT NULL,
  kind ENUM('fail', 'slow', 'warn', 'silent', 'planned') NOT NULL,
  from_at BIGINT UNSIGNED NOT NULL,
  to_at BIGINT UNSIGNED NULL,
  reason VARCHAR(40) NULL,
  PRIMARY KEY (check_id, location_id, kind, from_at),
  KEY by_time (from_at),
  KEY by_end (to_at)
);

CREATE TABLE service_summary (
  service_id INT UNSIGNED NOT NULL PRIMARY KEY,
  at BIGINT UNSIGNED NOT NULL,
  content JSON NOT NULL
);

CREATE TABLE check_summary (
  check_id INT UNSIGNED NOT NULL PRIMARY KEY,
  at BIGINT UNSIGNED NOT NULL,
  content JSON NOT NULL
);
