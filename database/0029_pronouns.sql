-- How somebody likes to be spoken of, as they say themselves; empty where they say nothing.
ALTER TABLE account_settings ADD COLUMN pronouns VARCHAR(40) NOT NULL DEFAULT '';
