-- How much each course and each account keeps in files. Counted with every file, under the lock of its row.
CREATE TABLE stored_bytes (
  holder CHAR(36) NOT NULL PRIMARY KEY,
  bytes BIGINT NOT NULL
) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4 COLLATE = utf8mb4_unicode_ci;

INSERT INTO stored_bytes (holder, bytes) SELECT course_id, SUM(size) FROM files GROUP BY course_id;
INSERT INTO stored_bytes (holder, bytes) SELECT stored_by, SUM(size) FROM files GROUP BY stored_by;
