-- Signing in at an identity provider: what is remembered until somebody comes back from there.
CREATE TABLE sign_in_flows (
  flow_hash CHAR(64) NOT NULL PRIMARY KEY,
  provider VARCHAR(40) NOT NULL,
  state VARCHAR(100) NOT NULL,
  nonce VARCHAR(100) NOT NULL,
  verifier VARCHAR(200) NOT NULL,
  target VARCHAR(2000) NOT NULL,
  -- Whoever administers is sent back once, to show a second factor.
  asks_factor TINYINT NOT NULL,
  expires_at BIGINT NOT NULL,
  KEY sign_in_flows_expires (expires_at)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- Where somebody signed in, so that they can be signed out there too.
ALTER TABLE sessions ADD COLUMN provider VARCHAR(40) NULL;
