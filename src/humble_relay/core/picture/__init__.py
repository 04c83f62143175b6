"""Raster, frame rate, serial rates and bitrates."""
