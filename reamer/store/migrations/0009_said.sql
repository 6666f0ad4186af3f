-- What was said of a revision when it was saved or when its news was read, and by which rules. Nothing is ever updated or deleted.
CREATE TABLE said (
    plan_id TEXT NOT NULL REFERENCES plan (id),
    number INTEGER NOT NULL,
    rules TEXT NOT NULL,
    at TEXT NOT NULL,
    keys TEXT NOT NULL,
    PRIMARY KEY (plan_id, number, rules)
) STRICT, WITHOUT ROWID;

-- Which rules' news somebody has read of a plan.
CREATE TABLE ruled_read (
    plan_id TEXT NOT NULL REFERENCES plan (id),
    rules TEXT NOT NULL,
    at TEXT NOT NULL,
    PRIMARY KEY (plan_id, rules)
) STRICT, WITHOUT ROWID;
