-- What instructors and support people may do by themselves, and who owns an item.
ALTER TABLE courses ADD COLUMN staff_may JSON NOT NULL DEFAULT '{}';
ALTER TABLE items ADD COLUMN owners JSON NOT NULL DEFAULT '[]';

-- Notes that staff leave one another on an item, a group or a person; no student ever gets them.
CREATE TABLE staff_notes (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  about_kind VARCHAR(10) NOT NULL,
  about_id CHAR(36) NOT NULL,
  person_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  body TEXT NOT NULL,
  ended_at BIGINT NULL,
  KEY staff_notes_about (course_id, about_kind, about_id, at),
  CONSTRAINT staff_notes_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- What an instructor or support person proposes: commands that wait for the coordinator.
-- state: waiting, taken, handed back, taken back. taken: how many of its commands the coordinator took.
CREATE TABLE proposals (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  account_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  commands JSON NOT NULL,
  state VARCHAR(20) NOT NULL DEFAULT 'waiting',
  answer TEXT NOT NULL DEFAULT '',
  taken INT NOT NULL DEFAULT 0,
  KEY proposals_course (course_id, state, at),
  CONSTRAINT proposals_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
