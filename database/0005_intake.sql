-- Meetings moved by hand, beside the pattern they belong to.
ALTER TABLE sections ADD COLUMN moved JSON NOT NULL DEFAULT '[]';

-- What an intake read and what it changed (gzipped JSON), so that it can be opened again and undone whole.
ALTER TABLE intakes
  ADD COLUMN looked_at LONGBLOB NULL,
  ADD COLUMN changes LONGBLOB NULL,
  ADD COLUMN undone_at BIGINT NULL,
  ADD COLUMN undone_by CHAR(36) NULL;

-- How a course draws its rosters from the registrar's service.
CREATE TABLE feeds (
  course_id CHAR(36) NOT NULL PRIMARY KEY,
  classes JSON NOT NULL,
  nightly_at CHAR(5) NULL,
  next_at BIGINT NULL,
  applies_itself BOOLEAN NOT NULL,
  leaving_percent DOUBLE NOT NULL,
  allowed_by CHAR(36) NULL,
  CONSTRAINT feeds_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- Rosters that were pulled: waiting for review, applied, put away; or why nothing came.
CREATE TABLE pulls (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  state VARCHAR(20) NOT NULL,
  says TEXT NOT NULL,
  roster LONGBLOB NULL,
  KEY pulls_course (course_id, at),
  CONSTRAINT pulls_course_exists FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
