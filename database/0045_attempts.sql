-- What a quiz asks stands with its item, in the plan.
ALTER TABLE items ADD COLUMN quiz JSON NULL;

-- Attempts: one a holder (a student, or the group whose it is) and number, so that it begins once however often it is asked
-- for. paper: what it asks, as it was drawn when it began. ends_at: by the clock, null where nothing ends it; how it ended:
-- handed in, time, staff or void. seen_at: when a browser was last heard of.
CREATE TABLE attempts (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  item_id CHAR(36) NOT NULL,
  holder_id CHAR(36) NOT NULL,
  is_group BOOLEAN NOT NULL,
  number INT NOT NULL,
  begun_by CHAR(36) NOT NULL,
  begun_at BIGINT NOT NULL,
  ends_at BIGINT NULL,
  extra_minutes INT NOT NULL DEFAULT 0,
  ended_at BIGINT NULL,
  ended_how VARCHAR(20) NULL,
  reason VARCHAR(500) NOT NULL DEFAULT '',
  paper LONGTEXT NOT NULL,
  points DECIMAL(12, 3) NULL,
  seen_at BIGINT NOT NULL,
  hand_in_id CHAR(36) NULL,
  UNIQUE KEY attempts_holder (course_id, item_id, holder_id, number),
  KEY attempts_running (ended_at, ends_at),
  KEY attempts_hand_in (hand_in_id),
  CONSTRAINT attempts_course FOREIGN KEY (course_id) REFERENCES courses (id) ON DELETE CASCADE,
  CONSTRAINT attempts_person FOREIGN KEY (begun_by) REFERENCES people (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- Answers as they were saved last, with whose and of which item they are. sequence: grows with each save of a question, so that an older one never replaces a newer.
CREATE TABLE attempt_answers (
  course_id CHAR(36) NOT NULL,
  attempt_id CHAR(36) NOT NULL,
  item_id CHAR(36) NOT NULL,
  holder_id CHAR(36) NOT NULL,
  question_id CHAR(36) NOT NULL,
  answer LONGTEXT NOT NULL,
  file_id CHAR(36) NULL,
  sequence INT NOT NULL,
  saved_at BIGINT NOT NULL,
  saved_by CHAR(36) NOT NULL,
  points DECIMAL(12, 3) NULL,
  marked_by CHAR(36) NULL,
  PRIMARY KEY (attempt_id, question_id),
  KEY attempt_answers_course (course_id),
  CONSTRAINT attempt_answers_attempt FOREIGN KEY (attempt_id) REFERENCES attempts (id) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
