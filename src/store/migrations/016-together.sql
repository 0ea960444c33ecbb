-- One cause, one incident: an incident may be part of another one, which leads it. Practice outages, and holding off.

ALTER TABLE incident DROP COLUMN open_check;
ALTER TABLE incident
  ADD COLUMN part_of INT UNSIGNED NULL,
  ADD COLUMN part_why VARCHAR(200) NULL,
  -- the check that leads is well again, and others still fail
  ADD COLUMN own_ended_at BIGINT UNSIGNED NULL,
  ADD COLUMN practice_until BIGINT UNSIGNED NULL,
  ADD COLUMN practice_by INT UNSIGNED NULL,
  ADD COLUMN held_off_until BIGINT UNSIGNED NULL,
  -- somebody asked that the routes be asked, as after taking it out of another incident
  ADD COLUMN tell_asked TINYINT NOT NULL DEFAULT 0,
  ADD COLUMN open_check INT UNSIGNED AS (IF(closed_at IS NULL AND practice_until IS NULL, check_id, NULL)) PERSISTENT UNIQUE,
  ADD KEY by_lead (part_of, closed_at),
  ADD KEY by_asked (tell_asked);

-- What the check that leads an open incident depends on; others that share one of these join it.
CREATE TABLE incident_facet (
  incident_id INT UNSIGNED NOT NULL,
  kind VARCHAR(10) NOT NULL,
  value VARCHAR(300) NOT NULL,
  PRIMARY KEY (incident_id, kind, value),
  KEY by_value (kind, value)
);

INSERT INTO counter (name, value) VALUES ('incidents', 1);
