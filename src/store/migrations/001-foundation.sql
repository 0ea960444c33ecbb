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

-- People and ways in -------------------------------------------------------------------------------------------

CREATE TABLE person (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_key VARCHAR(100) NOT NULL UNIQUE,
  name VARCHAR(200) NOT NULL,
  mail VARCHAR(200) NOT NULL UNIQUE,
  job VARCHAR(200) NOT NULL DEFAULT '',
  role ENUM('viewer', 'responder', 'editor', 'owner') NOT NULL,
  password_hash VARCHAR(200) NULL,
  theme ENUM('light', 'dark', 'auto') NOT NULL DEFAULT 'auto',
  created_at BIGINT UNSIGNED NOT NULL
);

CREATE TABLE session (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  person_id INT UNSIGNED NOT NULL,
  created_at BIGINT UNSIGNED NOT NULL,
  expires_at BIGINT UNSIGNED NOT NULL,
  address VARCHAR(60) NOT NULL,
  agent VARCHAR(300) NOT NULL,
  KEY by_person (person_id),
  KEY by_end (expires_at)
);

CREATE TABLE sign_in_attempt (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at BIGINT UNSIGNED NOT NULL,
  account VARCHAR(200) NOT NULL,
  address VARCHAR(60) NOT NULL,
  KEY by_account (account, at),
  KEY by_address (address, at)
);

CREATE TABLE api_token (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  token_hash BINARY(32) NOT NULL UNIQUE,
  name VARCHAR(200) NOT NULL,
  person_id INT UNSIGNED NOT NULL,
  scope ENUM('read', 'respond', 'write') NOT NULL,
  created_at BIGINT UNSIGNED NOT NULL,
  expires_at BIGINT UNSIGNED NULL,
  used_at BIGINT UNSIGNED NULL
);

CREATE TABLE audit (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at BIGINT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NULL,
  act VARCHAR(60) NOT NULL,
  subject VARCHAR(200) NOT NULL,
  before_value JSON NULL,
  after_value JSON NULL,
  KEY by_time (at),
  KEY by_subject (subject, at)
);

-- Where checks run ---------------------------------------------------------------------------------------------

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

-- What is watched ----------------------------------------------------------------------------------------------

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

-- What was observed --------------------------------------------------------------------------------------------

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

-- Work that is waiting -----------------------------------------------------------------------------------------

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

-- Incidents and who is told ------------------------------------------------------------------------------------

CREATE TABLE incident (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  check_id INT UNSIGNED NOT NULL,
  trouble ENUM('down', 'slow') NOT NULL,
  opened_at BIGINT UNSIGNED NOT NULL,
  since_at BIGINT UNSIGNED NOT NULL,
  last_pass_at BIGINT UNSIGNED NULL,
  last_fail_at BIGINT UNSIGNED NULL,
  ended_at BIGINT UNSIGNED NULL,
  closed_at BIGINT UNSIGNED NULL,
  closed_by INT UNSIGNED NULL,
  holder_id INT UNSIGNED NULL,
  taken_at BIGINT UNSIGNED NULL,
  not_real TINYINT NOT NULL DEFAULT 0,
  reason VARCHAR(40) NULL,
  sentence VARCHAR(500) NOT NULL,
  failing SMALLINT UNSIGNED NOT NULL,
  locations SMALLINT UNSIGNED NOT NULL,
  open_check INT UNSIGNED AS (IF(closed_at IS NULL, check_id, NULL)) PERSISTENT UNIQUE,
  KEY by_check (check_id, since_at),
  KEY by_time (opened_at),
  KEY by_close (closed_at)
);

CREATE TABLE incident_event (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  incident_id INT UNSIGNED NOT NULL,
  at BIGINT UNSIGNED NOT NULL,
  kind VARCHAR(30) NOT NULL,
  person_id INT UNSIGNED NULL,
  title VARCHAR(300) NOT NULL,
  detail VARCHAR(4000) NOT NULL DEFAULT '',
  KEY by_incident (incident_id, at, id)
);

CREATE TABLE channel (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  channel_key VARCHAR(100) NOT NULL UNIQUE,
  name VARCHAR(200) NOT NULL,
  kind ENUM('mail', 'webhook', 'push') NOT NULL,
  person_id INT UNSIGNED NULL,
  config JSON NOT NULL,
  working TINYINT NOT NULL DEFAULT 1
);

CREATE TABLE delivery (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  step_key VARCHAR(190) NOT NULL UNIQUE,
  incident_id INT UNSIGNED NULL,
  channel_id INT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NULL,
  news ENUM('down', 'slow', 'over', 'test') NOT NULL,
  message JSON NOT NULL,
  state ENUM('waiting', 'sending', 'sent', 'failed', 'dropped') NOT NULL DEFAULT 'waiting',
  created_at BIGINT UNSIGNED NOT NULL,
  due_at BIGINT UNSIGNED NOT NULL,
  lease_until BIGINT UNSIGNED NOT NULL DEFAULT 0,
  tries SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  sent_at BIGINT UNSIGNED NULL,
  answer VARCHAR(500) NULL,
  KEY by_due (state, due_at),
  KEY by_incident (incident_id)
);

-- What open pages are told about; rows live for minutes.
CREATE TABLE live_event (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at BIGINT UNSIGNED NOT NULL,
  topic VARCHAR(20) NOT NULL,
  subject INT UNSIGNED NOT NULL,
  KEY by_time (at)
);
