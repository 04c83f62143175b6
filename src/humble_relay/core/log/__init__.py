"""The log of a show: what is done and found on the way, one entry after the other, and what is judged by of it."""
