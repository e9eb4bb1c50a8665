-- Whoever runs the application: one row, made when it is set up.
CREATE TABLE institution (
  only_one TINYINT NOT NULL PRIMARY KEY DEFAULT 1,
  name VARCHAR(200) NOT NULL,
  time_zone VARCHAR(60) NOT NULL,
  set_up_at BIGINT NOT NULL,
  CONSTRAINT institution_only_one CHECK (only_one = 1)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- Courses that were there before are somebody's: nobody sets up over them.
INSERT INTO institution (name, time_zone, set_up_at)
  SELECT 'This institution', time_zone, 0 FROM courses ORDER BY id LIMIT 1;

CREATE TABLE terms (
  id CHAR(36) NOT NULL PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  starts CHAR(10) NOT NULL,
  ends CHAR(10) NOT NULL,
  no_class_days JSON NOT NULL,
  UNIQUE KEY terms_name (name),
  KEY terms_starts (starts)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- An account may be there before its password is; the registrar's ids are told apart by case, as those of people are.
ALTER TABLE accounts
  MODIFY sourced_id VARCHAR(100) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  MODIFY password_hash VARCHAR(200) NULL,
  ADD COLUMN email VARCHAR(200) NULL,
  ADD COLUMN administers TINYINT NOT NULL DEFAULT 0,
  ADD COLUMN disabled_at BIGINT NULL;

-- Addresses that work once: only a hash of each is kept. The one to set up with is nobody's.
CREATE TABLE one_time_links (
  token_hash CHAR(64) NOT NULL PRIMARY KEY,
  kind VARCHAR(20) NOT NULL,
  account_id CHAR(36) NULL,
  expires_at BIGINT NOT NULL,
  KEY one_time_links_expires (expires_at),
  CONSTRAINT one_time_links_account FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- Letters about an account, which belong to no course. What was sent is forgotten but for its subject: it held an address.
CREATE TABLE account_letters (
  id CHAR(36) NOT NULL PRIMARY KEY,
  account_id CHAR(36) NOT NULL,
  address VARCHAR(200) NOT NULL,
  subject VARCHAR(400) NOT NULL,
  body MEDIUMTEXT NOT NULL,
  at BIGINT NOT NULL,
  state VARCHAR(20) NOT NULL,
  tries INT NOT NULL DEFAULT 0,
  next_at BIGINT NOT NULL,
  error VARCHAR(500) NOT NULL DEFAULT '',
  KEY account_letters_due (state, next_at),
  CONSTRAINT account_letters_account FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- Lists of an institution are read a page at a time.
ALTER TABLE courses ADD KEY courses_term (term, code), ADD KEY courses_code (code);
ALTER TABLE people ADD KEY people_login (username), ADD KEY people_email (email), ADD KEY people_known (sourced_id);
