-- What could not be read and was put away: it stays where it is, and is neither counted nor told any more. Taken back, the
-- row goes again. kind, id: which it is, as it is told.
CREATE TABLE put_away (
    kind TEXT NOT NULL,
    id TEXT NOT NULL,
    at TEXT NOT NULL,
    PRIMARY KEY (kind, id)
) STRICT, WITHOUT ROWID;
