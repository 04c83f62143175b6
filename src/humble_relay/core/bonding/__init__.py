"""Bonded uplinks: what several modems carry together, by simulation."""
