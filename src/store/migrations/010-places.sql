-- Locations on the map, what they may ask and through what; the health of probes; failures that a need explains.

ALTER TABLE location
  ADD COLUMN latitude DOUBLE NULL,
  ADD COLUMN longitude DOUBLE NULL,
  ADD COLUMN ranges JSON NULL,
  ADD COLUMN proxy VARBINARY(600) NULL,
  ADD COLUMN reference_targets JSON NULL,
  ADD COLUMN cut_since BIGINT UNSIGNED NULL;

ALTER TABLE probe
  ADD COLUMN clock_offset INT NULL,
  ADD COLUMN backlog INT UNSIGNED NULL,
  ADD COLUMN lateness INT UNSIGNED NULL,
  ADD COLUMN checks INT UNSIGNED NULL;

DROP TABLE location_lease;

ALTER TABLE incident ADD COLUMN explained_by INT UNSIGNED NULL;
