-- Groups and layers that were put away, self-placement with its codes, and meeting patterns of groups.
ALTER TABLE courses ADD COLUMN visitor_code VARCHAR(40) NULL;
ALTER TABLE layers
  ADD COLUMN self_placement JSON NULL,
  ADD COLUMN archived_at BIGINT NULL;
ALTER TABLE `groups`
  ADD COLUMN code VARCHAR(40) NULL,
  ADD COLUMN pattern JSON NOT NULL DEFAULT '[]',
  ADD COLUMN archived_at BIGINT NULL;
