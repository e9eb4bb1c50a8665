-- Messages of a draft are called so in the tables, too.
ALTER TABLE drafts CHANGE COLUMN letters messages JSON NOT NULL DEFAULT '[]';
ALTER TABLE planned_publications CHANGE COLUMN letters messages JSON NOT NULL DEFAULT '[]';
