"""The computation: a plan and its measurements in, a report out. No clock, disk or network."""
