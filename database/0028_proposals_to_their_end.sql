-- What was taken of a proposal, and what of it went out, so that its author is told to the end.
ALTER TABLE proposals
  ADD COLUMN taken_ids JSON NOT NULL DEFAULT '[]',
  ADD COLUMN published INT NOT NULL DEFAULT 0,
  ADD COLUMN published_at BIGINT NULL;
