-- A message and what each of its recipients reads: a notice in the course, and a letter where they have an address.
CREATE TABLE messages (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  account_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  subject VARCHAR(200) NOT NULL,
  body TEXT NOT NULL,
  KEY messages_course (course_id, at),
  CONSTRAINT messages_course_exists FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- state: waiting, sent, refused; none where there is no address. next_at: when it is tried again; while somebody tries,
-- when it may be tried by another.
CREATE TABLE deliveries (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  message_id CHAR(36) NOT NULL,
  person_id CHAR(36) NOT NULL,
  address VARCHAR(200) NULL,
  reply_to VARCHAR(200) NULL,
  subject VARCHAR(400) NOT NULL,
  body MEDIUMTEXT NOT NULL,
  at BIGINT NOT NULL,
  state VARCHAR(20) NOT NULL,
  tries INT NOT NULL DEFAULT 0,
  next_at BIGINT NOT NULL,
  error VARCHAR(500) NOT NULL DEFAULT '',
  read_at BIGINT NULL,
  UNIQUE KEY deliveries_once (message_id, person_id),
  KEY deliveries_due (state, next_at),
  KEY deliveries_person (course_id, person_id, at),
  CONSTRAINT deliveries_message FOREIGN KEY (message_id) REFERENCES messages (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- Messages that go out with a draft's publication, and with one that waits for its moment.
ALTER TABLE drafts ADD COLUMN letters JSON NOT NULL DEFAULT '[]';
ALTER TABLE planned_publications ADD COLUMN letters JSON NOT NULL DEFAULT '[]';
