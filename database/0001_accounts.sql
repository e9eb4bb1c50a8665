-- Accounts are logins; what somebody is in a course is an enrolment of the person with the same sourced_id.
CREATE TABLE accounts (
  id CHAR(36) NOT NULL PRIMARY KEY,
  username VARCHAR(100) NOT NULL,
  sourced_id VARCHAR(100) NOT NULL,
  display_name VARCHAR(200) NOT NULL,
  password_hash VARCHAR(200) NOT NULL,
  UNIQUE KEY accounts_username (username),
  UNIQUE KEY accounts_sourced_id (sourced_id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- Only a hash of the token is kept: a copy of this table opens no session.
CREATE TABLE sessions (
  token_hash CHAR(64) NOT NULL PRIMARY KEY,
  account_id CHAR(36) NOT NULL,
  expires_at BIGINT NOT NULL,
  KEY sessions_expires (expires_at),
  CONSTRAINT sessions_account FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE sign_in_failures (
  username_hash CHAR(64) NOT NULL PRIMARY KEY,
  failures INT NOT NULL,
  last_at BIGINT NOT NULL
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
