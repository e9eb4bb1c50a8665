-- In whose way dates and numbers are written: of the institution, and of whoever wants it otherwise.
ALTER TABLE institution
  ADD COLUMN locale VARCHAR(35) NOT NULL DEFAULT 'en-GB',
  ADD COLUMN hours VARCHAR(5) NOT NULL DEFAULT 'usual';
ALTER TABLE account_settings
  ADD COLUMN locale VARCHAR(35) NULL,
  ADD COLUMN hours VARCHAR(5) NULL;
