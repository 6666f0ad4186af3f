-- A plan is a row; what it says is in its revisions. Nothing in revision is ever updated or deleted.
CREATE TABLE plan (
    id TEXT PRIMARY KEY,
    created_at TEXT NOT NULL,
    deleted_at TEXT
) STRICT;

-- position: the edit whose body this revision shows (its own number for an edit, an earlier one for undo and redo).
-- parent: for an edit, the position it was made from.
CREATE TABLE revision (
    plan_id TEXT NOT NULL REFERENCES plan (id),
    number INTEGER NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('edit', 'undo', 'redo')),
    position INTEGER NOT NULL,
    parent INTEGER,
    saved_at TEXT NOT NULL,
    what TEXT NOT NULL,
    title TEXT NOT NULL,
    body TEXT,
    PRIMARY KEY (plan_id, number),
    CHECK ((kind = 'edit') = (body IS NOT NULL)),
    CHECK ((kind = 'edit') = (position = number))
) STRICT;

CREATE INDEX revision_child ON revision (plan_id, parent) WHERE parent IS NOT NULL;
