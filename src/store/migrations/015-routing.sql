-- Who hears of what: teams, rotas and routes in their written form, and the steps of each incident.

CREATE TABLE routing_definition (
  kind ENUM('team', 'rota', 'route') NOT NULL,
  definition_key VARCHAR(100) NOT NULL,
  document JSON NOT NULL,
  version INT UNSIGNED NOT NULL DEFAULT 1,
  changed_at BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (kind, definition_key)
);

CREATE TABLE incident_course (
  incident_id INT UNSIGNED NOT NULL,
  news ENUM('down', 'slow') NOT NULL,
  route_key VARCHAR(100) NOT NULL,
  position SMALLINT UNSIGNED NOT NULL,
  course JSON NOT NULL,
  due_at BIGINT UNSIGNED NULL,
  PRIMARY KEY (incident_id, news, route_key),
  KEY by_due (due_at)
);

ALTER TABLE delivery ADD COLUMN cause VARCHAR(300) NULL, ADD KEY by_time (created_at);

ALTER TABLE person ADD COLUMN days_off JSON NOT NULL DEFAULT '[]';
