-- What the audit found in a course when it was last asked, and how many students it has: counted, for lists of courses.
CREATE TABLE course_findings (
  course_id CHAR(36) NOT NULL PRIMARY KEY,
  revision INT NOT NULL,
  at BIGINT NOT NULL,
  students INT NOT NULL,
  leaks INT NOT NULL,
  stranded INT NOT NULL,
  others INT NOT NULL,
  KEY course_findings_at (at),
  KEY course_findings_students (students),
  CONSTRAINT course_findings_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- An address may be of all that an account has to do, in whichever courses it is a student.
ALTER TABLE calendar_addresses
  MODIFY course_id CHAR(36) NULL,
  MODIFY kind ENUM('student', 'group', 'staff', 'all') NOT NULL;

-- Lists of half a million accounts, a page at a time.
ALTER TABLE accounts ADD KEY accounts_name (display_name, id), ADD KEY accounts_email (email);
-- Who is in a course, by role, and what is in a draft.
ALTER TABLE enrolments ADD KEY enrolments_role (course_id, role, until);
-- Counted and put in order from this index alone.
ALTER TABLE courses ADD KEY courses_listed (term_start DESC, code, id, term_end, archived_at, revision);
