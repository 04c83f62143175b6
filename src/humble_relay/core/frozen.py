"""The shape every value of the core shares: frozen, strict about unknown fields."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, StringConstraints


class Frozen(BaseModel):
    """A value that never changes; a field it does not know is an error, not a surprise."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


Slug = Annotated[str, StringConstraints(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$", max_length=60)]
"""A short readable id, such as `slipway-cam`: it stays when the thing is renamed."""

PortRef = Annotated[
    str, StringConstraints(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*/[a-z0-9]+(-[a-z0-9]+)*$", max_length=121)
]
"""One port of one device, written `device/port`."""

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
Text = Annotated[str, StringConstraints(max_length=500)]
