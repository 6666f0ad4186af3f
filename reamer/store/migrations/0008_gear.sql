-- What things of the shed have been through: one document each, every save a revision; a removed one has no body.
-- Nothing is ever updated or deleted.
CREATE TABLE gear (
    id TEXT PRIMARY KEY
) STRICT;

CREATE TABLE gear_revision (
    gear_id TEXT NOT NULL REFERENCES gear (id),
    number INTEGER NOT NULL,
    saved_at TEXT NOT NULL,
    body TEXT,
    PRIMARY KEY (gear_id, number)
) STRICT, WITHOUT ROWID;

-- Records that came with a plan's file: they count for that plan alone, beside the library's own.
CREATE TABLE gear_came (
    plan_id TEXT PRIMARY KEY REFERENCES plan (id),
    body TEXT NOT NULL
) STRICT;
