-- What is handed in may be a text, a link and a file; posts may answer others, hold a file, and are edited with what
-- they said before kept.
ALTER TABLE hand_ins
  ADD COLUMN link VARCHAR(2000) NULL,
  ADD COLUMN file_id CHAR(36) NULL;

ALTER TABLE posts
  ADD COLUMN parent_id CHAR(36) NULL,
  ADD COLUMN file_id CHAR(36) NULL,
  ADD COLUMN is_html BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN edited_at BIGINT NULL;

CREATE TABLE post_versions (
  post_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  body TEXT NOT NULL,
  is_html BOOLEAN NOT NULL,
  KEY post_versions_post (post_id, at),
  CONSTRAINT post_versions_post FOREIGN KEY (post_id) REFERENCES posts (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
