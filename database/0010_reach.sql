-- Class list, telling words, how items are split, whose patterns are met by; files, group pages, combined items;
-- findings that were accepted; stored files, a megabyte a row.
ALTER TABLE courses
  ADD COLUMN class_list JSON NOT NULL DEFAULT '{"to":"everyone"}',
  ADD COLUMN telling_words JSON NOT NULL DEFAULT '[]',
  ADD COLUMN splitting JSON NULL,
  ADD COLUMN meeting_layer_id CHAR(36) NULL;

ALTER TABLE items
  ADD COLUMN file JSON NULL,
  ADD COLUMN page_of CHAR(36) NULL,
  ADD COLUMN combines JSON NOT NULL DEFAULT '[]';

CREATE TABLE acceptances (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  finding VARCHAR(300) NOT NULL,
  state VARCHAR(64) NOT NULL,
  reason VARCHAR(500) NOT NULL,
  at BIGINT NOT NULL,
  CONSTRAINT acceptances_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE files (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  name VARCHAR(200) NOT NULL,
  type VARCHAR(100) NOT NULL,
  size INT NOT NULL,
  stored_by CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  KEY files_course (course_id),
  CONSTRAINT files_course_exists FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE file_parts (
  file_id CHAR(36) NOT NULL,
  part INT NOT NULL,
  bytes MEDIUMBLOB NOT NULL,
  PRIMARY KEY (file_id, part),
  CONSTRAINT file_parts_file FOREIGN KEY (file_id) REFERENCES files (id) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
