-- A second factor beside passwords of our own: codes of an authenticator (RFC 6238), and some that work once each.
-- confirmed_at: null until a first code was typed. last_step: of the newest code that was taken; none is taken twice.
CREATE TABLE second_factors (
  account_id CHAR(36) NOT NULL PRIMARY KEY,
  secret VARCHAR(64) NOT NULL,
  confirmed_at BIGINT NULL,
  last_step BIGINT NOT NULL DEFAULT 0,
  CONSTRAINT second_factors_account FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE recovery_codes (
  account_id CHAR(36) NOT NULL,
  code_hash CHAR(64) NOT NULL,
  PRIMARY KEY (account_id, code_hash),
  CONSTRAINT recovery_codes_account FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
