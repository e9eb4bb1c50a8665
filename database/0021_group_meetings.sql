-- Groups with meetings of their own: days without class, meetings moved and added, as sections have them.
ALTER TABLE `groups`
  ADD COLUMN no_class_days JSON NOT NULL DEFAULT '[]',
  ADD COLUMN moved JSON NOT NULL DEFAULT '[]',
  ADD COLUMN added JSON NOT NULL DEFAULT '[]';
