-- What services and the workspace share with checks, with history, undo, secrets and clients.

CREATE TABLE change_set (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at BIGINT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NULL,
  title VARCHAR(300) NOT NULL,
  undone_by INT UNSIGNED NULL,
  KEY by_time (at)
);

-- Every version of every definition; a document that is NULL was taken out of use with that version.
CREATE TABLE revision (
  kind ENUM('check', 'service', 'workspace') NOT NULL,
  subject_id INT UNSIGNED NOT NULL,
  version INT UNSIGNED NOT NULL,
  at BIGINT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NULL,
  change_id INT UNSIGNED NULL,
  document JSON NULL,
  PRIMARY KEY (kind, subject_id, version),
  KEY by_change (change_id)
);
INSERT INTO revision (kind, subject_id, version, at, person_id, document)
  SELECT 'check', check_id, version, at, person_id, document FROM check_revision;
DROP TABLE check_revision;

CREATE TABLE workspace_definition (
  id INT UNSIGNED NOT NULL PRIMARY KEY,
  document JSON NOT NULL,
  version INT UNSIGNED NOT NULL DEFAULT 1
);
INSERT INTO workspace_definition (id, document) VALUES (1, '{}');

ALTER TABLE service
  ADD COLUMN deleted_at BIGINT UNSIGNED NULL,
  ADD COLUMN live_key VARCHAR(100) AS (IF(deleted_at IS NULL, service_key, NULL)) PERSISTENT UNIQUE,
  DROP INDEX service_key;

-- Values of secrets, AES-256-GCM; the key is not in the database.
CREATE TABLE secret (
  place ENUM('check', 'service', 'workspace') NOT NULL,
  subject_id INT UNSIGNED NOT NULL,
  name VARCHAR(64) NOT NULL,
  sealed VARBINARY(9000) NOT NULL,
  set_at BIGINT UNSIGNED NOT NULL,
  set_by INT UNSIGNED NULL,
  PRIMARY KEY (place, subject_id, name)
);

CREATE TABLE client (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  client_key VARCHAR(100) NOT NULL UNIQUE,
  name VARCHAR(200) NOT NULL
);

ALTER TABLE check_definition
  ADD COLUMN pause_until BIGINT UNSIGNED NULL,
  ADD COLUMN pause_reason VARCHAR(300) NULL,
  ADD COLUMN mute_until BIGINT UNSIGNED NULL,
  ADD COLUMN mute_reason VARCHAR(300) NULL;

-- A try of a stored check, with values for this run only; it is not recorded with the check.
ALTER TABLE try_request ADD COLUMN check_id INT UNSIGNED NULL, ADD COLUMN variables JSON NULL;

CREATE TABLE tag_colour (
  name VARCHAR(50) NOT NULL PRIMARY KEY,
  colour CHAR(7) NOT NULL
);

CREATE TABLE saved_view (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id INT UNSIGNED NOT NULL,
  name VARCHAR(100) NOT NULL,
  query VARCHAR(2000) NOT NULL,
  shared TINYINT NOT NULL DEFAULT 0,
  UNIQUE KEY by_name (person_id, name)
);
