-- What happened that touches security. What somebody does again within an hour is counted in one row; without names, and
-- without the address of what was refused.
CREATE TABLE security_events (
  id CHAR(36) NOT NULL PRIMARY KEY,
  -- The hour, and a digest of kind, who, where, whom and what.
  same_hash CHAR(64) NOT NULL,
  kind VARCHAR(40) NOT NULL,
  account_id CHAR(36) NULL,
  course_id CHAR(36) NULL,
  -- Through whose eyes somebody looked.
  person_id CHAR(36) NULL,
  -- The pattern of the route, or the file that was saved.
  what VARCHAR(200) NOT NULL,
  -- Where somebody tried to sign in from.
  address VARCHAR(64) NOT NULL,
  at BIGINT NOT NULL,
  last_at BIGINT NOT NULL,
  times INT NOT NULL,
  UNIQUE KEY security_events_same (same_hash),
  KEY security_events_course (course_id, id),
  KEY security_events_at (at)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
