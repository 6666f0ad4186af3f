-- What is looked for: every plan, station, person, thing of a shed, descent and figure as words. Made anew from what it
-- stands for; nothing is in it alone.
CREATE VIRTUAL TABLE found USING fts5 (
    kind, title, body, of UNINDEXED, place UNINDEXED, tokenize = "unicode61 remove_diacritics 2"
);

-- Of what, and as it was when it was put in.
CREATE TABLE found_of (
    of TEXT PRIMARY KEY,
    version TEXT NOT NULL
) STRICT, WITHOUT ROWID;
