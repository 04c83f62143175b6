"""The signal map: what is on it, and where everything on it lies."""
