"""Between the screens and the core: opens what is stored, saves, and answers; it owns what is kept in memory."""
