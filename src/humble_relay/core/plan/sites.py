"""Where things are: sites, places in them, and what lies between two places."""

from typing import Annotated, Literal

from pydantic import Field

from humble_relay.core.frozen import Frozen, Name, Slug, Text
from humble_relay.core.plan.nouns import RefersTo

Metres = Annotated[float, Field(ge=0, le=100_000)]
Latitude = Annotated[float, Field(ge=-90, le=90)]
Longitude = Annotated[float, Field(ge=-180, le=180)]
"""Degrees, north and east counted up (WGS 84)."""
Coordinate = Annotated[float, Field(ge=-100_000, le=100_000)]
Material = Literal["brick", "concrete", "plasterboard", "wood", "glass", "metal", "unknown"]
RunBy = Literal["us", "venue"]
"""Who runs the network of a site."""


class Site(Frozen):
    """A location with its own way to the internet."""

    id: Slug
    name: Name
    run_by: RunBy = "us"
    """Who runs the network there: a venue's own department must be asked in time."""
    latitude: Latitude | None = None
    longitude: Longitude | None = None


class Place(Frozen):
    """A spot in a site; coordinates in metres from any corner you choose."""

    id: Slug
    name: Name
    site: Annotated[Slug, RefersTo("site")]
    x_m: Coordinate | None = None
    y_m: Coordinate | None = None
    floor: Annotated[int, Field(ge=-50, le=300)] = 0
    indoor: bool = True
    mains: bool | None = None
    """Whether there is mains power; None where nobody has looked."""


class Obstacle(Frozen):
    """Something between two places that a cable must get past or a radio wave through; thickness in metres."""

    kind: Literal["wall", "floor", "water", "road", "trees", "crowd", "open-air"]
    """`open-air`: looked at on site, each end sees the other."""
    material: Material | None = None
    """What a wall or a floor is made of; None for what has no material."""
    thickness_m: Annotated[float, Field(gt=0, le=100)] | None = None


class Span(Frozen):
    """The way between two places: how far it is, what lies between, and whether a cable can be laid along it."""

    id: Slug
    a: Annotated[Slug, RefersTo("place", "goes too")]
    b: Annotated[Slug, RefersTo("place", "goes too")]
    distance_m: Metres | None = None
    """As measured along the ground or the air; None: reckoned from coordinates where both places have them."""
    between: Annotated[tuple[Obstacle, ...], Field(max_length=50, fail_fast=True)] = ()
    cable: bool | None = None
    """Whether a cable can go there; None where nobody has looked."""
    note: Text = ""
