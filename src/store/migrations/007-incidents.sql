-- Incidents and who is told.

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
