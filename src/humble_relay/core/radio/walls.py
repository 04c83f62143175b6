"""What walls, floors and whatever else stands in the way take of a radio signal, in dB at 5.5 GHz."""

from collections.abc import Iterable
from typing import NamedTuple

from humble_relay.core.plan import Material, Obstacle

GHZ = 5.5
ELECTRIC: dict[Material, tuple[float, float, float]] = {
    "concrete": (5.31, 0.0326, 0.8095),
    "brick": (3.75, 0.038, 0.0),
    "plasterboard": (2.94, 0.0116, 0.7076),
    "wood": (1.99, 0.0047, 1.0718),
    "glass": (6.27, 0.0043, 1.1925),
}
"""Relative permittivity, and c and d of the conductivity c·f^d in S/m, f in GHz (ITU-R P.2040-1; figures from memory)."""
USUAL_M: dict[Material, tuple[float, float]] = {
    "concrete": (0.1, 0.3), "brick": (0.1, 0.3), "plasterboard": (0.02, 0.15), "wood": (0.02, 0.1), "glass": (0.004, 0.03),
}  # fmt: skip
"""How thick such walls usually are, in metres (common practice, no source)."""
NOT_SAID = (1.0, 28.0)
"""A wall that nobody described: from one of plasterboard to one of 30 cm of concrete."""
METAL_DB = 60.0
IN_THE_OPEN = {
    "open-air": (0.0, 0.0),
    "water": (0.0, 0.0),
    "road": (0.0, 0.0),
    "trees": (0.0, 10.0),
    "crowd": (0.0, 6.0),
}
"""What is no wall (common practice, no source)."""
_LATER_EDITIONS, _REFLECTED_DB = 1.4, 2.0
"""Later editions revised some materials upward, and a wall reflects too: the most that a described one takes."""


class Loss(NamedTuple):
    """What is lost on the way, in dB: at least, and at most; and whether it would be known better if it were described."""

    least_db: float
    most_db: float
    described: bool


def absorbed_db(material: Material, thickness_m: float, ghz: float = GHZ) -> float:
    """What a wall absorbs, in dB: 1636 σ/√εr a metre (ITU-R P.2040-1).

    >>> round(absorbed_db("brick", 0.2), 1), round(absorbed_db("concrete", 0.2), 1)
    (6.4, 18.4)
    """
    permittivity, c, d = ELECTRIC[material]
    return float(1636 * c * ghz**d / permittivity**0.5 * thickness_m)


def lost(obstacles: Iterable[Obstacle], walls: int = 0) -> Loss:
    """What the obstacles take together, and so many walls that nobody described.

    >>> lost([Obstacle(kind="water")]), lost([], 1).described
    (Loss(least_db=0.0, most_db=0.0, described=True), False)
    """
    each = [_one(x) for x in obstacles] + [Loss(*NOT_SAID, False)] * walls
    return Loss(sum(x.least_db for x in each), sum(x.most_db for x in each), all(x.described for x in each))


def _one(obstacle: Obstacle) -> Loss:
    if obstacle.kind in IN_THE_OPEN:
        return Loss(*IN_THE_OPEN[obstacle.kind], True)
    material = obstacle.material
    if material == "metal":
        return Loss(METAL_DB, METAL_DB, True)
    if material is None or material not in ELECTRIC:
        return Loss(*NOT_SAID, False)
    thin, thick = (obstacle.thickness_m,) * 2 if obstacle.thickness_m else USUAL_M[material]
    most = absorbed_db(material, thick) * _LATER_EDITIONS + _REFLECTED_DB
    return Loss(absorbed_db(material, thin), most, obstacle.thickness_m is not None)


def as_far_as_m(distance_m: float, loss_db: float) -> float:
    """The distance in the open, in metres, at which a signal is as weak as after this distance and this loss.

    Free-space loss goes with 20 log d (ITU-R P.525): 6 dB are twice the distance.

    >>> round(as_far_as_m(50, 6.0206), 2)
    100.0
    """
    return float(distance_m * 10 ** (loss_db / 20))
