-- A login has one spelling: NFKC, without case, without invisible signs. The application writes and asks by it.
ALTER TABLE accounts ADD COLUMN login VARCHAR(100) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL;
UPDATE accounts SET login = LOWER(TRIM(username));
ALTER TABLE accounts MODIFY login VARCHAR(100) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  ADD UNIQUE KEY accounts_login (login);

-- Tries to sign in that have not succeeded, by login and by the address they come from; both only as hashes.
DROP TABLE sign_in_failures;
CREATE TABLE sign_in_tries (
  key_hash CHAR(64) NOT NULL PRIMARY KEY,
  tries DOUBLE NOT NULL,
  last_at BIGINT NOT NULL,
  KEY sign_in_tries_last (last_at)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
