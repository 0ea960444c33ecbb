-- What is measured beside a try (packet loss in thousandths, the round trip), who stands between a visitor and an answer, and points in time worth remembering.

ALTER TABLE observation ADD COLUMN loss_pm SMALLINT UNSIGNED NULL, ADD COLUMN rtt_us INT UNSIGNED NULL;

CREATE TABLE party (
  party_key VARCHAR(100) NOT NULL PRIMARY KEY,
  document JSON NOT NULL,
  version INT UNSIGNED NOT NULL DEFAULT 1,
  changed_at BIGINT UNSIGNED NOT NULL
);

CREATE TABLE mark (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at BIGINT UNSIGNED NOT NULL,
  kind ENUM('release', 'change', 'note') NOT NULL,
  title VARCHAR(200) NOT NULL,
  detail VARCHAR(2000) NOT NULL DEFAULT '',
  service_id INT UNSIGNED NULL,
  check_id INT UNSIGNED NULL,
  person_id INT UNSIGNED NULL,
  made_at BIGINT UNSIGNED NOT NULL,
  KEY by_time (at)
);
