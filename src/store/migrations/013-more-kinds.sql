-- Parts of the time that protocols with a greeting, a sign-in, something to hand over and something to take away have,
-- and numbers that a kind measures beside the time.

ALTER TABLE observation
  ADD COLUMN greet_us INT UNSIGNED NULL,
  ADD COLUMN login_us INT UNSIGNED NULL,
  ADD COLUMN send_us INT UNSIGNED NULL,
  ADD COLUMN remove_us INT UNSIGNED NULL,
  ADD COLUMN readings TEXT NULL;

ALTER TABLE rollup
  ADD COLUMN greet_sketch BLOB NULL,
  ADD COLUMN login_sketch BLOB NULL,
  ADD COLUMN send_sketch BLOB NULL,
  ADD COLUMN remove_sketch BLOB NULL;
