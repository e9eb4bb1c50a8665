-- Files on their way, in the pieces that arrived: a cut connection loses nothing of them. They are gone a day later.
CREATE TABLE uploads (
  id CHAR(36) NOT NULL PRIMARY KEY,
  account_id CHAR(36) NOT NULL,
  name VARCHAR(200) NOT NULL,
  size INT NOT NULL,
  at BIGINT NOT NULL,
  KEY uploads_account (account_id, at)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE upload_pieces (
  upload_id CHAR(36) NOT NULL,
  position INT NOT NULL,
  bytes MEDIUMBLOB NOT NULL,
  PRIMARY KEY (upload_id, position),
  CONSTRAINT upload_pieces_upload FOREIGN KEY (upload_id) REFERENCES uploads (id) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
