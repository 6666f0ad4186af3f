-- By which key an edit or a step was asked for: one that is asked for again, because its answer was not heard, is known.
ALTER TABLE revision ADD COLUMN key TEXT;
CREATE UNIQUE INDEX revision_key ON revision (plan_id, key) WHERE key IS NOT NULL;
