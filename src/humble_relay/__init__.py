"""Humble Relay: plans and judges how live video travels from cameras to viewers."""

__version__ = "0.1.0"
