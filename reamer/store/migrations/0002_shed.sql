-- The common shed: one document, every save a revision. Nothing is ever updated or deleted.
CREATE TABLE shed_revision (
    number INTEGER PRIMARY KEY,
    saved_at TEXT NOT NULL,
    what TEXT NOT NULL,
    body TEXT NOT NULL
) STRICT;
