"""Reach: who calls whom for each stream, by which way, and where the call ends."""
