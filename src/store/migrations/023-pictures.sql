-- Pictures that belong to notes of incidents.

CREATE TABLE picture (
  picture_key CHAR(32) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  incident_id INT UNSIGNED NOT NULL,
  media_type VARCHAR(20) NOT NULL,
  content MEDIUMBLOB NOT NULL,
  person_id INT UNSIGNED NULL,
  made_at BIGINT UNSIGNED NOT NULL,
  KEY by_incident (incident_id)
);
