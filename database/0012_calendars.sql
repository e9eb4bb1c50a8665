-- Addresses under which a calendar can be fetched without signing in: only a digest of each is kept.
CREATE TABLE calendar_addresses (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  token_hash CHAR(64) NOT NULL,
  -- Whose calendar: the account's own as a student, a group's, or all of the course for staff.
  kind ENUM('student', 'group', 'staff') NOT NULL,
  target_id CHAR(36) NULL,
  account_id CHAR(36) NOT NULL,
  made_at BIGINT NOT NULL,
  read_at BIGINT NULL,
  UNIQUE KEY calendar_addresses_token (token_hash),
  KEY calendar_addresses_course (course_id, made_at),
  CONSTRAINT calendar_addresses_course FOREIGN KEY (course_id) REFERENCES courses (id),
  CONSTRAINT calendar_addresses_account FOREIGN KEY (account_id) REFERENCES accounts (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- How often each entry of a calendar changed, so that programs that hold it take the newer one.
CREATE TABLE calendar_entries (
  course_id CHAR(36) NOT NULL,
  calendar VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  entry CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  content CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sequence INT NOT NULL,
  changed_at BIGINT NOT NULL,
  PRIMARY KEY (course_id, calendar, entry),
  CONSTRAINT calendar_entries_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
