"""Ports, cables, and the picture followed along them."""
