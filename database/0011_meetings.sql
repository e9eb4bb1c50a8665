-- Meetings added by hand, beside the pattern.
ALTER TABLE sections ADD COLUMN added JSON NOT NULL DEFAULT '[]';
-- By how many percent working time may differ between groups before the audit asks.
ALTER TABLE courses ADD COLUMN unequal_share INT NOT NULL DEFAULT 25;
