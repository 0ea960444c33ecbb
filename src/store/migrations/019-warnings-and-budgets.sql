-- Warnings and fast burns of error budgets are routed like incidents. A burn belongs to a service; the check it names has used up most.

ALTER TABLE incident DROP COLUMN open_check;
ALTER TABLE incident
  MODIFY trouble ENUM('down', 'slow', 'warning', 'burn') NOT NULL,
  ADD COLUMN burn_service INT UNSIGNED NULL,
  ADD COLUMN open_check INT UNSIGNED AS (IF(closed_at IS NULL AND practice_until IS NULL AND burn_service IS NULL, check_id, NULL)) PERSISTENT UNIQUE,
  ADD COLUMN open_burn INT UNSIGNED AS (IF(closed_at IS NULL, burn_service, NULL)) PERSISTENT UNIQUE;

ALTER TABLE incident_course MODIFY news ENUM('down', 'slow', 'warning', 'burn') NOT NULL;
ALTER TABLE delivery MODIFY news ENUM('down', 'slow', 'warning', 'burn', 'over', 'test', 'code', 'digest', 'welcome') NOT NULL;
