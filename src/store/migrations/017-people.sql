-- How each person wants to be told, addresses that are confirmed, more means, and messages that wait for the end of quiet hours.

ALTER TABLE person ADD COLUMN preferences JSON NOT NULL DEFAULT '{}';

-- An invitation counts once, for some days.
CREATE TABLE invitation (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  person_id INT UNSIGNED NOT NULL,
  expires_at BIGINT UNSIGNED NOT NULL
);

ALTER TABLE channel
  MODIFY kind ENUM('push', 'mail', 'sms', 'voice', 'chat', 'webhook') NOT NULL,
  ADD COLUMN confirmed_at BIGINT UNSIGNED NULL,
  ADD COLUMN code_hash BINARY(32) NULL,
  ADD COLUMN code_until BIGINT UNSIGNED NULL,
  ADD COLUMN code_tries TINYINT UNSIGNED NOT NULL DEFAULT 0,
  -- a channel that was taken away stays for the messages it carried
  ADD COLUMN removed_at BIGINT UNSIGNED NULL;
UPDATE channel SET confirmed_at = 0;

ALTER TABLE delivery
  MODIFY news ENUM('down', 'slow', 'over', 'test', 'code', 'digest', 'welcome') NOT NULL,
  MODIFY state ENUM('waiting', 'sending', 'sent', 'failed', 'dropped', 'held', 'gathered', 'replaced') NOT NULL DEFAULT 'waiting',
  ADD COLUMN link_used_at BIGINT UNSIGNED NULL,
  ADD KEY by_channel (channel_id, created_at);

-- What links that take an incident are signed with.
INSERT INTO setting (name, value) VALUES ('linkKey', JSON_QUOTE(LOWER(HEX(RANDOM_BYTES(32)))));
