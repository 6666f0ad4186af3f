"""What is saved: plans, their revisions and the common shed, in one SQLite file."""
