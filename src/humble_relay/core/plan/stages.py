"""The stages of the work, in their order."""

from typing import Literal

Stage = Literal["brief", "survey", "gear", "signal", "addresses", "bandwidth", "set-up", "papers"]
STAGES: tuple[Stage, ...] = (
    "brief",
    "survey",
    "gear",
    "signal",
    "addresses",
    "bandwidth",
    "set-up",
    "papers",
)
