-- Named sets of groups, from any layers, that stand wherever a group can.
CREATE TABLE `sets` (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  name VARCHAR(200) NOT NULL,
  group_ids JSON NOT NULL,
  CONSTRAINT sets_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
