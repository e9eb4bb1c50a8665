-- What stands on a group's own page, and what its members may do there.
ALTER TABLE `groups` ADD COLUMN page JSON NULL;

-- What members keep on it: notices, pages, begun threads, shared files, the note and the meeting link.
-- version: counts changes, so that nobody overwrites what they have not seen. ended_at: taken away by its author.
CREATE TABLE group_entries (
  id CHAR(36) NOT NULL PRIMARY KEY,
  course_id CHAR(36) NOT NULL,
  group_id CHAR(36) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  person_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  title VARCHAR(200) NOT NULL,
  body MEDIUMTEXT NOT NULL,
  file_id CHAR(36) NULL,
  version INT NOT NULL DEFAULT 1,
  edited_by CHAR(36) NULL,
  edited_at BIGINT NULL,
  ended_at BIGINT NULL,
  KEY group_entries_group (course_id, group_id, at),
  CONSTRAINT group_entries_course FOREIGN KEY (course_id) REFERENCES courses (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- What an entry said before each change.
CREATE TABLE group_entry_versions (
  entry_id CHAR(36) NOT NULL,
  version INT NOT NULL,
  person_id CHAR(36) NOT NULL,
  at BIGINT NOT NULL,
  title VARCHAR(200) NOT NULL,
  body MEDIUMTEXT NOT NULL,
  PRIMARY KEY (entry_id, version),
  CONSTRAINT group_entry_versions_entry FOREIGN KEY (entry_id) REFERENCES group_entries (id)
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

-- A post stands where it was written: in an item, on a group's page, or in a thread that was begun there.
ALTER TABLE posts CHANGE COLUMN item_id place_id CHAR(36) NOT NULL;
