-- Put aside: a plan that is done with, and kept.
ALTER TABLE plan ADD COLUMN archived_at TEXT;
