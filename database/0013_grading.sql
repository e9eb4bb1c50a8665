-- How marks come together in a total, and the category of a column.
ALTER TABLE courses
  ADD COLUMN grading JSON NOT NULL DEFAULT '{"categories": [], "missingIsZero": false, "scale": []}';
ALTER TABLE items ADD COLUMN category_id CHAR(36) NULL;
