"""A figure together with the arithmetic that gave it."""

from collections.abc import Mapping
from dataclasses import dataclass

from humble_relay.core.plan.figures import catalogue


@dataclass(frozen=True, slots=True)
class Step:
    """One line of a sum: what it is, its value and unit, how it came, and where it is from."""

    name: str
    value: float | None = None
    unit: str = ""
    how: str = ""
    source: str = ""
    figure: str | None = None
    """The catalogue figure this line shows, which the plan may set another value for."""


@dataclass(frozen=True, slots=True)
class Working:
    """A figure with its unit, and the steps that lead to it, in order."""

    name: str
    value: float
    unit: str
    steps: tuple[Step, ...] = ()


class Figures:
    """The catalogue of figures, with this plan's own values over it. Those of two plans that set the same are equal."""

    def __init__(self, own: Mapping[str, float]) -> None:
        self._own, self._catalogue = own, catalogue()
        self._steps: dict[str, Step] = {}
        self._set = frozenset(own.items())
        self._hash = hash(self._set)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Figures) and self._set == other._set

    def __hash__(self) -> int:
        return self._hash

    def __getitem__(self, id: str) -> float:
        return self._own[id] if id in self._own else self._catalogue[id].value

    def step(self, id: str) -> Step:
        """The figure as a line of a working, saying its source or that this plan set it."""
        if id not in self._steps:
            figure = self._catalogue[id]
            source = f"set in this plan (catalogue: {figure.value:g})" if id in self._own else figure.source
            self._steps[id] = Step(
                name=figure.name, value=self[id], unit=figure.unit, source=source, figure=id
            )
        return self._steps[id]


def number(value: float) -> str:
    """A number as it is read aloud: three significant digits, more only where they are whole."""
    return f"{value:,.0f}".replace(",", " ") if abs(value) >= 1000 else f"{value:.3g}"
