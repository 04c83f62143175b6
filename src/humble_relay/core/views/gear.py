"""What the Gear stage draws beside the devices: each model against what there is of it."""

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.show.packing import StockLine, stock_lines


class GearView(Frozen):
    """Every model used or held, those missing first."""

    stock: tuple[StockLine, ...]


def gear_view(case: Case) -> GearView:
    """What the Gear stage draws."""
    return GearView(stock=stock_lines(case))
