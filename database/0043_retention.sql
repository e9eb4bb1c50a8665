-- Until when a term's work and its courses are kept; null: until somebody says otherwise. Nothing goes sooner than a week after
-- its day was named, which retention_set_at and _by say.
ALTER TABLE terms
  ADD COLUMN work_until CHAR(10) NULL,
  ADD COLUMN courses_until CHAR(10) NULL,
  ADD COLUMN retention_set_at BIGINT NOT NULL DEFAULT 0,
  ADD COLUMN retention_set_by CHAR(36) NULL;
-- When the words and files of a course's students went.
ALTER TABLE courses ADD COLUMN work_gone_at BIGINT NULL;
