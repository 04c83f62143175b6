"""Uplinks that the plan could have too: a phone or a modem behind a router, modems in a device that takes them."""

from collections.abc import Iterator
from itertools import chain, islice

from humble_relay.core.bonding.modems import modem_port
from humble_relay.core.judging.case import Case
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.modem_lines import modems_added
from humble_relay.core.views.commands.rearrange import backup_behind

_MOST = 8


def more_uplinks(case: Case) -> tuple[Alternative, ...]:
    """Ways to send by mobile data beside what there is, each as edits; the bonds first, at most eight."""
    return tuple(islice((a for a in chain(_bonds(case), _backups(case)) if a.edits), _MOST))


def _bonds(case: Case) -> Iterator[Alternative]:
    for device in case.devices.values():
        if modem_port(device) and device.kind != "phone":
            yield from islice(modems_added(case, f"add 2 modems to {device.name.lower()}"), 1)


def _backups(case: Case) -> Iterator[Alternative]:
    for router in case.plan.routers:
        if len(router.uplinks) == 1:
            yield backup_behind(case, router, "phone")
