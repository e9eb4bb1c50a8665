-- What a layer was formed from, and what forming says of each group.
ALTER TABLE layers ADD COLUMN forming JSON NULL;
ALTER TABLE `groups`
  ADD COLUMN description VARCHAR(2000) NOT NULL DEFAULT '',
  ADD COLUMN leads JSON NOT NULL DEFAULT '[]',
  ADD COLUMN scope_group_id CHAR(36) NULL;
