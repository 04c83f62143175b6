"""What is kept: plans, their revisions and measurements, in SQLite."""
