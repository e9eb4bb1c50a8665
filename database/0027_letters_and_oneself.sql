-- Whose name a message bears, and what it is about; null where it was written before. What the course writes by
-- itself, such as a receipt, is not among what was sent.
ALTER TABLE messages ADD COLUMN sender VARCHAR(200) NULL, ADD COLUMN item_id CHAR(36) NULL,
  ADD COLUMN is_sent TINYINT(1) NOT NULL DEFAULT 1;
-- Null also where its reader is not let in there.
ALTER TABLE deliveries ADD COLUMN item_id CHAR(36) NULL;

-- What somebody decided of their own: mail beside notices, a receipt of each hand-in.
CREATE TABLE account_settings (
  account_id CHAR(36) NOT NULL PRIMARY KEY,
  mails TINYINT(1) NOT NULL,
  receipts TINYINT(1) NOT NULL,
  CONSTRAINT account_settings_account FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- A person finds their sessions by where and when they were begun and last used.
ALTER TABLE sessions
  ADD COLUMN id CHAR(36) NOT NULL DEFAULT (UUID()),
  ADD COLUMN begun_at BIGINT NOT NULL DEFAULT 0,
  ADD COLUMN used_at BIGINT NOT NULL DEFAULT 0,
  ADD COLUMN agent VARCHAR(400) NOT NULL DEFAULT '',
  ADD KEY sessions_account_used (account_id, used_at);

-- Whether students may write to their instructors.
ALTER TABLE courses ADD COLUMN may_write_to_staff TINYINT(1) NOT NULL DEFAULT 0;
