"""A figure together with the arithmetic that gave it."""

import json
from collections.abc import Mapping
from functools import cache
from importlib.resources import files

from humble_relay.core.frozen import Frozen


class Step(Frozen):
    """One line of a sum: what it is, its value and unit, how it came, and where it is from."""

    name: str
    value: float | None = None
    unit: str = ""
    how: str = ""
    source: str = ""
    figure: str | None = None
    """The catalogue figure this line shows, which the plan may set another value for."""


class Working(Frozen):
    """A figure with its unit, and the steps that lead to it, in order."""

    name: str
    value: float
    unit: str
    steps: tuple[Step, ...] = ()


class Figure(Frozen):
    """A figure of the trade or of a standard, with where it comes from, and between which values a plan may set it."""

    name: str
    value: float
    unit: str
    source: str
    least: float
    most: float


class Figures:
    """The catalogue of figures, with this plan's own values over it."""

    def __init__(self, own: Mapping[str, float]) -> None:
        self._own = own

    def __getitem__(self, id: str) -> float:
        return self._own.get(id, catalogue()[id].value)

    def step(self, id: str) -> Step:
        """The figure as a line of a working, saying its source or that this plan set it."""
        figure = catalogue()[id]
        source = f"set in this plan (catalogue: {figure.value:g})" if id in self._own else figure.source
        return Step(name=figure.name, value=self[id], unit=figure.unit, source=source, figure=id)


@cache
def catalogue() -> dict[str, Figure]:
    """Every figure the plan may override, by id."""
    text = files("humble_relay.core").joinpath("figures.json").read_text(encoding="utf-8")
    return {id: Figure.model_validate(figure) for id, figure in json.loads(text).items()}


def number(value: float) -> str:
    """A number as it is read aloud: three significant digits, more only where they are whole."""
    return f"{value:,.0f}".replace(",", " ") if abs(value) >= 1000 else f"{value:.3g}"


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
