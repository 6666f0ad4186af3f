-- Which library this is: another name with every restore, so that nothing is answered from what was kept of the one before.
CREATE TABLE library (
    one INTEGER PRIMARY KEY CHECK (one = 1),
    generation TEXT NOT NULL
) STRICT;

INSERT INTO library (one, generation) VALUES (1, lower(hex(randomblob(8))));
