"""What is written for others to read: the report of a plan."""
