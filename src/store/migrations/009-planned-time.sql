-- Planned work and release windows.

CREATE TABLE planned (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  planned_key VARCHAR(100) NOT NULL,
  document JSON NOT NULL,
  ends JSON NOT NULL DEFAULT '{}',
  created_at BIGINT UNSIGNED NOT NULL,
  deleted_at BIGINT UNSIGNED NULL,
  live_key VARCHAR(100) AS (IF(deleted_at IS NULL, planned_key, NULL)) PERSISTENT UNIQUE
);

-- A release window opened by hand or over the API for a check or a service.
CREATE TABLE release_window (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  place ENUM('check', 'service') NOT NULL,
  subject_id INT UNSIGNED NOT NULL,
  opened_at BIGINT UNSIGNED NOT NULL,
  opened_by INT UNSIGNED NULL,
  closes_at BIGINT UNSIGNED NULL,
  closed_at BIGINT UNSIGNED NULL,
  KEY by_end (closed_at)
);
