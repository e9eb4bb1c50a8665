-- What every step of a plan changed (gzipped JSON), for the journal, for reverting, and to see the plan as it was.
CREATE TABLE revisions (
  course_id CHAR(36) NOT NULL,
  revision INT NOT NULL,
  at BIGINT NOT NULL,
  changes LONGBLOB NOT NULL,
  PRIMARY KEY (course_id, revision),
  KEY revisions_at (course_id, at),
  CONSTRAINT revisions_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

INSERT INTO revisions (course_id, revision, at, changes)
  SELECT course_id, revision, at, changes FROM intakes WHERE changes IS NOT NULL;
ALTER TABLE intakes DROP COLUMN changes;

-- Lines of one doing stand together; revision 0: a doing that left the plan as it was.
ALTER TABLE journal
  ADD COLUMN kind VARCHAR(20) NOT NULL DEFAULT 'publication',
  ADD KEY journal_revision (course_id, revision);

-- A publication that waits for its moment holds commands of its author's draft.
CREATE TABLE planned_publications (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  account_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  seen JSON NOT NULL,
  state VARCHAR(20) NOT NULL,
  says TEXT NOT NULL,
  KEY planned_due (state, at),
  KEY planned_course (course_id, at),
  CONSTRAINT planned_course_exists FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
ALTER TABLE draft_commands ADD COLUMN planned_id CHAR(36) NULL;
