-- What people do: live rows beside the plan. An item that is removed from the plan leaves its work behind
-- (nothing that somebody did is deleted), so these tables name items without a foreign key.
CREATE TABLE marks (
  course_id CHAR(36) NOT NULL,
  item_id CHAR(36) NOT NULL,
  person_id CHAR(36) NOT NULL,
  points DECIMAL(10, 3) NULL,
  excused BOOLEAN NOT NULL,
  at BIGINT NOT NULL,
  marked_by CHAR(36) NULL,
  PRIMARY KEY (course_id, item_id, person_id),
  CONSTRAINT marks_person FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE hand_ins (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  item_id CHAR(36) NOT NULL,
  person_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  body MEDIUMTEXT NOT NULL,
  KEY hand_ins_course (course_id, item_id, person_id),
  CONSTRAINT hand_ins_person FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE openings (
  course_id CHAR(36) NOT NULL,
  item_id CHAR(36) NOT NULL,
  person_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  read_at BIGINT NULL,
  PRIMARY KEY (course_id, item_id, person_id),
  CONSTRAINT openings_person FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- group_id says whose thread a post of a split discussion stands in; null in a discussion that is not split.
CREATE TABLE posts (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  item_id CHAR(36) NOT NULL,
  group_id CHAR(36) NULL,
  person_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  body TEXT NOT NULL,
  KEY posts_item (course_id, item_id, at),
  CONSTRAINT posts_person FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
