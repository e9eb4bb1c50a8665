-- Work of groups: only a lead hands it in where that is set; one mark for all of a group.
ALTER TABLE items ADD COLUMN lead_hands_in BOOLEAN NOT NULL DEFAULT FALSE;

CREATE TABLE group_marks (
  course_id CHAR(36) NOT NULL,
  item_id CHAR(36) NOT NULL,
  group_id CHAR(36) NOT NULL,
  points DECIMAL(10, 3) NULL,
  excused BOOLEAN NOT NULL,
  at BIGINT NOT NULL,
  marked_by CHAR(36) NULL,
  PRIMARY KEY (course_id, item_id, group_id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- What markers write about a piece of work: a comment that the student or group reads, a note that only staff read.
-- holder_id is a person's id or a group's.
CREATE TABLE remarks (
  course_id CHAR(36) NOT NULL,
  item_id CHAR(36) NOT NULL,
  holder_id CHAR(36) NOT NULL,
  comment TEXT NOT NULL,
  note TEXT NOT NULL,
  at BIGINT NOT NULL,
  written_by CHAR(36) NULL,
  PRIMARY KEY (course_id, item_id, holder_id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- A saved filter keeps its columns and order, and may be shared with the staff of the course.
ALTER TABLE filters
  ADD COLUMN shared BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN view JSON NULL;
