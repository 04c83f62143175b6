"""What there is of each model: owned, borrowed until when, and taken by another plan on the same day."""

from collections import Counter
from typing import Annotated, NamedTuple

from pydantic import BeforeValidator, Field, model_validator

from humble_relay.core.catalogue.gear import Model
from humble_relay.core.frozen import Day, Frozen, Label, Name, Slug, Text
from humble_relay.core.plan import Device, Plan
from humble_relay.core.plan.moments import typed_day


def _typed(value: object) -> object:
    return typed_day(value) if isinstance(value, str) else value


class Item(Frozen):
    """One box of a model, by the label that is stuck on it. What was set on it stays set from one show to the next."""

    label: Annotated[Label, Field(min_length=1)]
    since: Annotated[Day, BeforeValidator(_typed)] | None = None
    """Since when it is in our hands again (after a loan, a repair, or from its lender): what was seen of it before counts no more."""


class Holding(Frozen):
    """So many of one model. Nobody in `lender` means they are owned; `until` is the last day they are here."""

    id: Slug
    model: Name
    count: Annotated[int, Field(ge=0, le=10_000)]
    lender: Text = ""
    until: Annotated[Day, BeforeValidator(_typed)] | None = None
    """Written as 30 Sep 2026, or as ISO 8601 has it."""
    items: Annotated[tuple[Item, ...], Field(max_length=200, fail_fast=True)] = ()
    """Those of them that have a label."""

    @model_validator(mode="after")
    def _counted(self) -> "Holding":
        labels = Counter(i.label for i in self.items)
        twice = next((label for label, n in labels.items() if n > 1), None)
        if twice:
            raise ValueError(f"two of {self.model} have the label {twice}: give one another label")
        if len(self.items) > self.count:
            raise ValueError(
                f"there are {self.count} of {self.model}, and {len(self.items)} labels: count them again, or take a label off"
            )
        return self


class Taken(Frozen):
    """What another plan on the same day uses of one model."""

    plan: Name
    model: Label
    count: int
    items: tuple[Label, ...] = ()
    """The labels of those that it names."""


class Stock(Frozen):
    """All holdings, what other plans of the day take, and models of one's own beside the gear library.

    Without holdings nobody keeps count.
    """

    holdings: tuple[Holding, ...] = ()
    taken: tuple[Taken, ...] = ()
    models: tuple[Model, ...] = ()


class StockCount(NamedTuple):
    """One model: how many this plan uses, how many are there on the day, and who else takes them."""

    model: str
    used: int
    owned: int
    borrowed: int
    gone_back: tuple[Holding, ...]
    taken: tuple[Taken, ...]

    @property
    def there(self) -> int:
        """How many this plan may count on."""
        return max(0, self.owned + self.borrowed - sum(t.count for t in self.taken))

    @property
    def missing(self) -> int:
        """How many this plan uses beyond that."""
        return max(0, self.used - self.there)


def is_stocked(device: Device) -> bool:
    """Whether the device is a thing to carry: a platform is not.

    >>> is_stocked(Device(id="cam", name="Cam", kind="camera", model="Field camera"))
    True
    """
    return device.ingest is None and bool(device.model)


def used(plan: Plan) -> dict[str, int]:
    """How many of each model the plan uses."""
    found: dict[str, int] = {}
    for device in plan.devices:
        if is_stocked(device):
            found[device.model] = found.get(device.model, 0) + 1
    return found


def items_used(plan: Plan) -> dict[str, list[str]]:
    """The labels of the items that the plan names, by model."""
    found: dict[str, list[str]] = {}
    for device in plan.devices:
        if is_stocked(device) and device.item:
            found.setdefault(device.model, []).append(device.item)
    return found


def stock_counts(plan: Plan, stock: Stock) -> dict[str, StockCount]:
    """Every model that is used or held, by name. Borrowed things that go back before the show do not count."""
    day = plan.show.last_day
    uses = used(plan)
    found = {}
    for model in dict.fromkeys([*uses, *(h.model for h in stock.holdings)]):
        held = [h for h in stock.holdings if h.model == model]
        gone = tuple(h for h in held if h.until and day and h.until < day.date())
        here = [h for h in held if h not in gone]
        found[model] = StockCount(
            model,
            uses.get(model, 0),
            sum(h.count for h in here if not h.lender),
            sum(h.count for h in here if h.lender),
            gone,
            tuple(t for t in stock.taken if t.model == model),
        )
    return found
