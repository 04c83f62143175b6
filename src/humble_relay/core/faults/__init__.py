"""Fault finding: what a picture that does not appear may be caused by, what tells the causes apart, and what to do meanwhile."""
