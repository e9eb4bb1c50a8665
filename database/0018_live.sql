-- Who has a course's bench open, by connection; whoever was not heard of for a while is gone.
CREATE TABLE presence (
  connection CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  account_id CHAR(36) NOT NULL,
  station VARCHAR(20) NOT NULL,
  seen_at BIGINT NOT NULL,
  KEY presence_course (course_id, seen_at)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

ALTER TABLE hand_ins ADD KEY hand_ins_latest (course_id, id);
ALTER TABLE journal ADD KEY journal_latest (course_id, id);
