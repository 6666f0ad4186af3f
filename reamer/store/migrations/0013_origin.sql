-- Which plan or demonstration a plan was copied from, however often: their stations are the same places. '' where it is no
-- copy, or one that was made before this was kept.
ALTER TABLE plan ADD COLUMN origin TEXT NOT NULL DEFAULT '';
