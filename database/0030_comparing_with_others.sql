-- Whether instructors and support people may hold their groups against all other students, as sums.
ALTER TABLE courses ADD COLUMN may_compare_with_others TINYINT(1) NOT NULL DEFAULT 0;
