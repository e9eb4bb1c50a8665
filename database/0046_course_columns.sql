-- A large course as a workbench begins with it, compressed: a process that has just started need not read every row for it. Of a plan
-- or of what people did at one revision; `shape` is another one as soon as a row would be written otherwise. Parts are small enough for
-- the longest statement that a server of its own takes as it comes.
CREATE TABLE course_columns (
  course_id CHAR(36) NOT NULL,
  kind VARCHAR(10) NOT NULL,
  part INT NOT NULL,
  revision INT NOT NULL,
  shape CHAR(16) NOT NULL,
  bytes LONGBLOB NOT NULL,
  PRIMARY KEY (course_id, kind, part),
  CONSTRAINT course_columns_course FOREIGN KEY (course_id) REFERENCES courses (id) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
