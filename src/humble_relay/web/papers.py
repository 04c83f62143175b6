"""The papers of a plan, as tables and as CSV."""

from fastapi import APIRouter, Response
from starlette.exceptions import HTTPException

from humble_relay.core.frozen import Slug
from humble_relay.core.show.papers import Table
from humble_relay.core.views.sheets import all_papers
from humble_relay.formats.csv_table import write_csv
from humble_relay.web.patience import Pulsed
from humble_relay.web.plans import AsOf, Store, case_of, download
from humble_relay.web.problems import documented

router = APIRouter(prefix="/api/plans", tags=["papers"])


@router.get("/{id}/papers", responses=documented(404, 422))
def get_papers(id: Slug, store: Store, pulse: Pulsed, keys: bool = False, as_of: AsOf = None) -> list[Table]:
    """The papers as tables; keys only when asked for."""
    return list(all_papers(case_of(store.get(id), pulse, as_of, clear=keys), keys))


@router.get("/{id}/papers/{paper}.csv", responses=documented(404, 422))
def get_paper_csv(
    id: Slug, paper: Slug, store: Store, pulse: Pulsed, keys: bool = False, as_of: AsOf = None
) -> Response:
    """One paper as CSV."""
    for table in all_papers(case_of(store.get(id), pulse, as_of, clear=keys), keys):
        if table.id == paper:
            return download(write_csv(table), "text/csv; charset=utf-8", f"{id}-{paper}.csv")
    raise HTTPException(404, f"There is no paper called {paper}.")
