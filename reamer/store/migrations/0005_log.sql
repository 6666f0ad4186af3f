-- Descents as they were: one document each, every save a revision; a removed one has no body. Nothing is ever updated
-- or deleted.
CREATE TABLE trip (
    id TEXT PRIMARY KEY,
    plan_id TEXT NOT NULL REFERENCES plan (id)
) STRICT;

CREATE TABLE trip_revision (
    trip_id TEXT NOT NULL REFERENCES trip (id),
    number INTEGER NOT NULL,
    saved_at TEXT NOT NULL,
    body TEXT,
    PRIMARY KEY (trip_id, number)
) STRICT, WITHOUT ROWID;

CREATE INDEX trip_of_plan ON trip (plan_id);
