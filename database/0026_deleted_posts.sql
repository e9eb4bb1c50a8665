-- A post that its writer deleted is not shown any more; what it said stays for staff.
ALTER TABLE posts ADD COLUMN deleted_at BIGINT NULL;
