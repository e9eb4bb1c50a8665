-- A feed that applies itself waits when many would join, as it does when many would leave.
ALTER TABLE feeds ADD COLUMN joining_percent DOUBLE NOT NULL DEFAULT 25;
