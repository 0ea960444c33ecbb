-- People and ways in.

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
