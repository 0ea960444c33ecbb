-- Contacts outside, who only receive.

ALTER TABLE person MODIFY role ENUM('contact', 'viewer', 'responder', 'editor', 'owner') NOT NULL;
