-- Boards for a wall, opened by whoever has their link.

CREATE TABLE board (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  -- keys of checks and locations; an empty list is all
  checks JSON NOT NULL,
  locations JSON NOT NULL,
  person_id INT UNSIGNED NULL,
  made_at BIGINT UNSIGNED NOT NULL
);
