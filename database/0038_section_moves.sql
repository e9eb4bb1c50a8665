-- Sections that left a course, went into another or into one of their own, and courses that became one: kept so that each
-- can be taken back whole. other_id: the course that they came from or went to. kept: what was beside the plans, as JSON.
CREATE TABLE section_moves (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  other_id CHAR(36) NULL,
  kind VARCHAR(20) NOT NULL,
  account_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  says VARCHAR(500) NOT NULL,
  revision INT NOT NULL,
  other_revision INT NULL,
  kept JSON NOT NULL,
  undone_at BIGINT NULL,
  undone_by CHAR(36) NULL,
  KEY section_moves_course (course_id, at),
  KEY section_moves_other (other_id, at),
  CONSTRAINT section_moves_course_exists FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- Courses that are over, or became a part of another: nobody is in them but their coordinators.
ALTER TABLE courses ADD COLUMN archived_at BIGINT NULL;
