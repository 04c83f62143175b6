"""Places: how far apart they are, what lies between, and whether a cable can go there."""
