"""Measured upload, headroom, and what streams put on the line."""
