-- The published plan of every course, one table a concept (src/core/plan/types.ts). Instants are epoch
-- milliseconds; dates people type are wall-clock text in the course's time zone.
CREATE TABLE courses (
  id CHAR(36) NOT NULL PRIMARY KEY,
  revision INT NOT NULL DEFAULT 1,
  progress_revision INT NOT NULL DEFAULT 1,
  code VARCHAR(40) NOT NULL,
  title VARCHAR(200) NOT NULL,
  term VARCHAR(80) NOT NULL,
  term_start CHAR(10) NOT NULL,
  term_end CHAR(10) NOT NULL,
  time_zone VARCHAR(60) NOT NULL,
  no_class_days JSON NOT NULL,
  date_policy VARCHAR(20) NOT NULL,
  layer_order JSON NOT NULL,
  indexes JSON NOT NULL
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE sections (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  code VARCHAR(60) NOT NULL,
  title VARCHAR(200) NOT NULL,
  student_title VARCHAR(200) NOT NULL,
  pattern JSON NOT NULL,
  no_class_days JSON NOT NULL,
  UNIQUE KEY sections_code (course_id, code),
  CONSTRAINT sections_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE people (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  sourced_id VARCHAR(100) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  username VARCHAR(100) NULL,
  email VARCHAR(200) NULL,
  given_name VARCHAR(100) NOT NULL,
  family_name VARCHAR(100) NOT NULL,
  attributes JSON NOT NULL,
  UNIQUE KEY people_sourced_id (course_id, sourced_id),
  CONSTRAINT people_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE enrolments (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  person_id CHAR(36) NOT NULL,
  section_id CHAR(36) NULL,
  role VARCHAR(20) NOT NULL,
  since BIGINT NOT NULL,
  until BIGINT NULL,
  origin VARCHAR(20) NOT NULL,
  home BOOLEAN NOT NULL,
  KEY enrolments_course (course_id),
  CONSTRAINT enrolments_person FOREIGN KEY (person_id) REFERENCES people (id),
  CONSTRAINT enrolments_section FOREIGN KEY (section_id) REFERENCES sections (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE layers (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  position DOUBLE NOT NULL,
  name VARCHAR(200) NOT NULL,
  rule VARCHAR(20) NOT NULL,
  private BOOLEAN NOT NULL,
  following JSON NULL,
  keep_apart JSON NOT NULL,
  CONSTRAINT layers_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE `groups` (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  layer_id CHAR(36) NOT NULL,
  position DOUBLE NOT NULL,
  name VARCHAR(200) NOT NULL,
  label VARCHAR(200) NOT NULL,
  stripe JSON NOT NULL,
  min INT NULL,
  max INT NULL,
  KEY groups_course (course_id),
  CONSTRAINT groups_layer FOREIGN KEY (layer_id) REFERENCES layers (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE placements (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  group_id CHAR(36) NOT NULL,
  person_id CHAR(36) NOT NULL,
  since BIGINT NOT NULL,
  until BIGINT NULL,
  held BOOLEAN NOT NULL,
  KEY placements_course (course_id),
  CONSTRAINT placements_group FOREIGN KEY (group_id) REFERENCES `groups` (id),
  CONSTRAINT placements_person FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- parent_id has no foreign key: one publication may add a folder and its contents in any order.
CREATE TABLE items (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  parent_id CHAR(36) NULL,
  position DOUBLE NOT NULL,
  kind VARCHAR(20) NOT NULL,
  title VARCHAR(200) NOT NULL,
  body MEDIUMTEXT NOT NULL,
  published BOOLEAN NOT NULL,
  seals BOOLEAN NOT NULL,
  audience JSON NOT NULL,
  `condition` JSON NULL,
  variants JSON NOT NULL,
  announced BOOLEAN NOT NULL,
  readable_after_close BOOLEAN NOT NULL,
  points DOUBLE NULL,
  dates JSON NOT NULL,
  split JSON NULL,
  KEY items_course (course_id),
  CONSTRAINT items_course_exists FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE entrances (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  item_id CHAR(36) NOT NULL,
  folder_id CHAR(36) NULL,
  position DOUBLE NOT NULL,
  KEY entrances_course (course_id),
  CONSTRAINT entrances_item FOREIGN KEY (item_id) REFERENCES items (id),
  CONSTRAINT entrances_folder FOREIGN KEY (folder_id) REFERENCES items (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE overrides (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  item_id CHAR(36) NOT NULL,
  target JSON NOT NULL,
  dates JSON NOT NULL,
  KEY overrides_course (course_id),
  CONSTRAINT overrides_item FOREIGN KEY (item_id) REFERENCES items (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE allowances (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  target JSON NOT NULL,
  minutes_factor VARCHAR(10) NULL,
  extra_days INT NULL,
  extra_attempts INT NULL,
  CONSTRAINT allowances_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
