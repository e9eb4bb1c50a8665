-- What staff have on their desk: drafts, what was published and taken in, filters, remembered column matches.
CREATE TABLE drafts (
  course_id CHAR(36) NOT NULL,
  account_id CHAR(36) NOT NULL,
  version INT NOT NULL,
  PRIMARY KEY (course_id, account_id),
  CONSTRAINT drafts_course FOREIGN KEY (course_id) REFERENCES courses (id),
  CONSTRAINT drafts_account FOREIGN KEY (account_id) REFERENCES accounts (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE draft_commands (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  account_id CHAR(36) NOT NULL,
  position INT NOT NULL,
  command JSON NOT NULL,
  undone BOOLEAN NOT NULL,
  KEY draft_commands_draft (course_id, account_id, position),
  CONSTRAINT draft_commands_draft FOREIGN KEY (course_id, account_id) REFERENCES drafts (course_id, account_id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- The key comes from the browser, so that pressing twice or sending again publishes once.
CREATE TABLE publications (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  account_id CHAR(36) NOT NULL,
  revision INT NOT NULL,
  at BIGINT NOT NULL,
  KEY publications_course (course_id, revision)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE journal (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  account_id CHAR(36) NOT NULL,
  revision INT NOT NULL,
  at BIGINT NOT NULL,
  says TEXT NOT NULL,
  detail JSON NOT NULL,
  KEY journal_course (course_id, at)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE intakes (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  account_id CHAR(36) NOT NULL,
  revision INT NOT NULL,
  at BIGINT NOT NULL,
  files JSON NOT NULL,
  counts JSON NOT NULL,
  KEY intakes_course (course_id, at)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE column_matches (
  course_id CHAR(36) NOT NULL,
  header_hash CHAR(64) NOT NULL,
  column_match JSON NOT NULL,
  PRIMARY KEY (course_id, header_hash)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

CREATE TABLE filters (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  account_id CHAR(36) NOT NULL,
  name VARCHAR(100) NOT NULL,
  text VARCHAR(2000) NOT NULL,
  pinned BOOLEAN NOT NULL,
  position INT NOT NULL,
  KEY filters_owner (course_id, account_id, position)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;
