"""New ways for a picture: the boxes and cables at hand, the cheapest way over them, and its edits."""
