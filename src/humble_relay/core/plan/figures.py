"""The figures of the trade and of the standards that a plan may set for itself, each with its source and its bounds."""

import json
from functools import cache
from importlib.resources import files

from humble_relay.core.frozen import Frozen


class Figure(Frozen):
    """A figure of the trade or of a standard, with where it comes from, and between which values a plan may set it."""

    name: str
    value: float
    unit: str
    source: str
    least: float
    most: float


@cache
def catalogue() -> dict[str, Figure]:
    """Every figure the plan may override, by id."""
    text = files("humble_relay.core.plan").joinpath("figures.json").read_text(encoding="utf-8")
    return {id: Figure.model_validate(figure) for id, figure in json.loads(text).items()}


def within_bounds(figures: dict[str, float]) -> dict[str, float]:
    """The figures a plan sets for itself. Raises ValueError for one that is unknown or beyond its bounds."""
    for id, value in figures.items():
        figure = catalogue().get(id)
        if figure is None:
            raise ValueError(f"there is no figure called {id[:60]}")
        if not figure.least <= value <= figure.most:
            unit = f" {figure.unit}" if figure.unit else ""
            raise ValueError(f"{figure.name}: write {figure.least:g} to {figure.most:g}{unit}")
    return figures
