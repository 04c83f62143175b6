"""The order of the day, and the papers to take along."""
