-- Who stood in a course's plan and does not any more, or under another id: its history still names them, which erasing goes by.
CREATE TABLE former_people (
  course_id CHAR(36) NOT NULL,
  person_id CHAR(36) NOT NULL,
  sourced_id VARCHAR(100) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  PRIMARY KEY (course_id, person_id, sourced_id),
  KEY former_people_sourced_id (sourced_id),
  CONSTRAINT former_people_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
