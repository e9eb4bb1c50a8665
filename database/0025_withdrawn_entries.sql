-- What is in a calendar no more is told as cancelled for a while, under the id that programs know it by.
ALTER TABLE calendar_entries
  ADD COLUMN uid CHAR(16) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD COLUMN start_at BIGINT NULL,
  ADD COLUMN withdrawn_at BIGINT NULL;
