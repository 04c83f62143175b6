"""The papers of a plan, as tables and as CSV."""

from fastapi import APIRouter, Response
from starlette.exceptions import HTTPException

from humble_relay.core.frozen import Frozen, Slug
from humble_relay.core.hidden_text import HIDDEN
from humble_relay.core.judging.case import Case
from humble_relay.core.papers.join_card import JoinCard, join_card, other_sides
from humble_relay.core.papers.paper_tables import Table, papers
from humble_relay.core.views.sheets import all_papers, fault_cards, judged_papers
from humble_relay.formats.csv_table import write_csv
from humble_relay.formats.dnsmasq import write_dnsmasq
from humble_relay.formats.hosts_file import write_hosts
from humble_relay.formats.join_file import write_join
from humble_relay.formats.m3u import write_m3u
from humble_relay.formats.nftables import write_nftables
from humble_relay.formats.qr_code import qr_rows
from humble_relay.formats.text_table import write_text
from humble_relay.web.cases import case_of
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import AsOf, Store, download, opened
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Pulsed

router = APIRouter(prefix="/api/plans", tags=["papers"], route_class=OffLoop)


@router.get("/{id}/papers", responses=documented(404, 422))
def get_papers(
    id: Slug,
    store: Store,
    pulse: Pulsed,
    keys: bool = False,
    judged: bool | None = None,
    cards: bool = False,
    as_of: AsOf = None,
) -> list[Table]:
    """The papers as tables; keys only when asked for. Those alone that rest on the whole judgement where it is said, or those alone that
    do not: they are there sooner; or the fault-finding cards, which take longest."""
    case = case_of(opened(store, id, pulse), pulse, as_of, clear=keys)
    if cards:
        return [fault_cards(case)]
    if judged is None:
        return list(all_papers(case, keys))
    return list(judged_papers(case) if judged else papers(case, keys))


@router.get("/{id}/papers/{paper}.csv", responses=documented(404, 422))
def get_paper_csv(
    id: Slug, paper: Slug, store: Store, pulse: Pulsed, keys: bool = False, as_of: AsOf = None
) -> Response:
    """One paper as CSV."""
    table = _paper(case_of(opened(store, id, pulse), pulse, as_of, clear=keys), paper, keys)
    return download(write_csv(table), "text/csv; charset=utf-8", f"{id}-{paper}.csv")


@router.get("/{id}/papers/{paper}.txt", responses=documented(404, 422))
def get_paper_text(
    id: Slug, paper: Slug, store: Store, pulse: Pulsed, keys: bool = False, as_of: AsOf = None
) -> Response:
    """One paper as plain text, such as the request to the network department for a message to it."""
    table = _paper(case_of(opened(store, id, pulse), pulse, as_of, clear=keys), paper, keys)
    return download(write_text(table), "text/plain; charset=utf-8", f"{id}-{paper}.txt")


def _paper(case: Case, paper: str, keys: bool) -> Table:
    """The paper of that id. Raises HTTPException."""
    for table in all_papers(case, keys):
        if table.id == paper:
            return table
    raise HTTPException(404, f"There is no paper called {paper}.")


@router.get("/{id}/hosts.txt", responses=documented(404, 422))
def get_hosts(id: Slug, store: Store, pulse: Pulsed) -> Response:
    """The boxes' names and addresses as a hosts file."""
    return download(
        write_hosts(case_of(opened(store, id, pulse), pulse)), "text/plain; charset=utf-8", f"{id}-hosts.txt"
    )


@router.get("/{id}/dnsmasq.conf", responses=documented(404, 422))
def get_dnsmasq(id: Slug, store: Store, pulse: Pulsed) -> Response:
    """Pools and reservations for dnsmasq."""
    return download(
        write_dnsmasq(case_of(opened(store, id, pulse), pulse)),
        "text/plain; charset=utf-8",
        f"{id}-dnsmasq.conf",
    )


@router.get("/{id}/routers/{which}.nft", responses=documented(404, 422))
def get_nftables(id: Slug, which: Slug, store: Store, pulse: Pulsed) -> Response:
    """The rules of one router for nftables."""
    case = case_of(opened(store, id, pulse), pulse)
    found = next((r for r in case.plan.routers if r.id == which), None)
    if found is None:
        raise HTTPException(404, f"The plan has no router called {which}.")
    return download(write_nftables(case, found), "text/plain; charset=utf-8", f"{id}-{which}.nft")


@router.get("/{id}/streams.m3u", responses=documented(404, 422))
def get_m3u(id: Slug, store: Store, pulse: Pulsed, keys: bool = False) -> Response:
    """The streams that a player can open; keys within addresses only when asked for."""
    return download(
        write_m3u(case_of(opened(store, id, pulse), pulse, clear=keys), keys),
        "audio/x-mpegurl",
        f"{id}-streams.m3u",
    )


class PrintedCard(Frozen):
    """A join card with its QR code, as rows of dark (1) and light (0) modules; no rows where there is nothing to be scanned."""

    card: JoinCard
    code: tuple[str, ...]


@router.get("/{id}/join", responses=documented(404, 422))
def get_join_cards(id: Slug, store: Store, pulse: Pulsed, keys: bool = False) -> list[PrintedCard]:
    """A card for every box that others set up; passphrases and links in clear only when asked for."""
    case = case_of(opened(store, id, pulse), pulse, clear=keys)
    cards = (join_card(case, stream, device, keys) for stream, device in other_sides(case))
    return [
        PrintedCard(card=c, code=qr_rows(c.code) if c.code and HIDDEN not in c.code else ()) for c in cards
    ]


@router.get("/{id}/join/{stream}/{device}.json", responses=documented(404, 422))
def get_settings_file(
    id: Slug, stream: Slug, device: Slug, store: Store, pulse: Pulsed, keys: bool = False
) -> Response:
    """The settings file of a stream for one of its ends; the passphrase in it only when asked for."""
    case = case_of(opened(store, id, pulse), pulse, clear=keys)
    found = next((s for s in case.streams if s.id == stream and device in (s.from_device, s.to_device)), None)
    if found is None:
        raise HTTPException(404, f"The plan has no stream {stream} that ends at {device}.")
    text = write_join(case, found, case.devices[device], keys)
    return download(text, "application/json", f"{stream}-for-{device}.json")
