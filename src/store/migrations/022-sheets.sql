-- The tries of all checks over ten minutes, column by column: what questions to single tries read. Which resolver and which TLS version a try had, and how long its name took to resolve from the root.

ALTER TABLE observation ADD COLUMN resolver_id INT UNSIGNED NULL, ADD COLUMN tls_version_id INT UNSIGNED NULL, ADD COLUMN resolution_us INT UNSIGNED NULL;

CREATE TABLE sheet (
  at BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  tries INT UNSIGNED NOT NULL,
  moment_column MEDIUMBLOB NOT NULL,
  check_column MEDIUMBLOB NOT NULL,
  location_column MEDIUMBLOB NOT NULL,
  verdict_column MEDIUMBLOB NOT NULL,
  status_column MEDIUMBLOB NULL,
  reason_column MEDIUMBLOB NULL,
  address_column MEDIUMBLOB NULL,
  server_column MEDIUMBLOB NULL,
  protocol_column MEDIUMBLOB NULL,
  resolver_column MEDIUMBLOB NULL,
  tlsVersion_column MEDIUMBLOB NULL,
  lookup_column MEDIUMBLOB NULL,
  connect_column MEDIUMBLOB NULL,
  greet_column MEDIUMBLOB NULL,
  login_column MEDIUMBLOB NULL,
  send_column MEDIUMBLOB NULL,
  wait_column MEDIUMBLOB NULL,
  receive_column MEDIUMBLOB NULL,
  remove_column MEDIUMBLOB NULL,
  tls_column MEDIUMBLOB NULL,
  total_column MEDIUMBLOB NULL,
  loss_column MEDIUMBLOB NULL,
  rtt_column MEDIUMBLOB NULL,
  resolution_column MEDIUMBLOB NULL
);

CREATE TABLE sheet_due (
  at BIGINT UNSIGNED NOT NULL PRIMARY KEY
);

INSERT IGNORE INTO sheet_due (at) SELECT DISTINCT FLOOR(at / 600000) * 600000 FROM rollup WHERE span = '5m' AND location_id = 0;

-- The counts and sketches of every check at every location over a UTC day, one metric a row: what questions over weeks read.
CREATE TABLE day_sheet (
  day INT UNSIGNED NOT NULL,
  metric VARCHAR(10) NOT NULL,
  made_at BIGINT UNSIGNED NOT NULL,
  content LONGBLOB NOT NULL,
  PRIMARY KEY (day, metric)
);

CREATE TABLE day_sheet_due (
  day INT UNSIGNED NOT NULL PRIMARY KEY
);

INSERT IGNORE INTO day_sheet_due (day) SELECT DISTINCT FLOOR(at / 86400000) FROM rollup WHERE span = '1d' AND location_id = 0;
