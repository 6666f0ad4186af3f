-- What a second person said of a plan: beside it, not in it. Nothing is ever updated or deleted.
CREATE TABLE verdict (
    plan_id TEXT NOT NULL REFERENCES plan (id),
    number INTEGER NOT NULL,
    body TEXT NOT NULL,
    PRIMARY KEY (plan_id, number)
) STRICT, WITHOUT ROWID;
