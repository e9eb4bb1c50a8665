-- Codes are looked up across courses; too many wrong ones by one account are slowed.
ALTER TABLE `groups` ADD KEY groups_code (code);
ALTER TABLE courses ADD KEY courses_visitor_code (visitor_code);
CREATE TABLE wrong_codes (
  account_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  KEY wrong_codes_account (account_id, at),
  CONSTRAINT wrong_codes_account_exists FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
