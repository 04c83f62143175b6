"""The stages of the work, in their order."""

from typing import Literal

Stage = Literal["brief", "survey", "gear", "signal", "addresses", "bandwidth", "papers"]
STAGES: tuple[Stage, ...] = ("brief", "survey", "gear", "signal", "addresses", "bandwidth", "papers")
