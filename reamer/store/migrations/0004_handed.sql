-- What phones hand back of a plan's cards, and what the desk did with it. Nothing is ever updated or deleted.
-- id: a digest of the content; way: how it came; sealed: whether its text was as the phone wrote it.
CREATE TABLE handed (
    plan_id TEXT NOT NULL REFERENCES plan (id),
    id TEXT NOT NULL,
    at TEXT NOT NULL,
    way TEXT NOT NULL CHECK (way IN ('file', 'codes', 'room')),
    sealed INTEGER NOT NULL,
    body TEXT NOT NULL,
    PRIMARY KEY (plan_id, id)
) STRICT, WITHOUT ROWID;

-- taken: what went into the survey, as it was before and after.
CREATE TABLE handed_act (
    plan_id TEXT NOT NULL,
    id TEXT NOT NULL,
    number INTEGER NOT NULL,
    at TEXT NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('accepted', 'refused', 'undone')),
    taken TEXT NOT NULL,
    PRIMARY KEY (plan_id, id, number),
    FOREIGN KEY (plan_id, id) REFERENCES handed (plan_id, id)
) STRICT, WITHOUT ROWID;
