"""The application: routers, errors, the doors around them, and the built front end."""

from collections.abc import AsyncIterator, Collection
from contextlib import asynccontextmanager
from importlib.resources import files
from pathlib import Path

from anyio.to_thread import current_default_thread_limiter
from fastapi import FastAPI, Response
from fastapi.responses import FileResponse
from starlette.middleware.gzip import GZipMiddleware

from humble_relay import __version__
from humble_relay.store.crew import Crew
from humble_relay.store.database import open_database
from humble_relay.store.photographs import Photographs
from humble_relay.store.plans import Plans
from humble_relay.store.shelf import Shelf
from humble_relay.web import (
    asked,
    catalogues,
    crew_routes,
    entering,
    events,
    examples,
    fault_routes,
    logs,
    meter,
    papers,
    photograph_routes,
    plan_routes,
    problems,
    setup_routes,
    shelf_routes,
    signal_routes,
    surveys,
    verdicts,
)
from humble_relay.web.code import Code, Tries
from humble_relay.web.doors import Doors
from humble_relay.web.heavy import THREADS
from humble_relay.web.request_patience import read_stored

STATIC = Path(str(files("humble_relay.web"))) / "static"


def make_app(
    folder: Path, hosts: Collection[str] = (), code: Code | None = None, behind_proxy: bool = False
) -> FastAPI:
    """The application over the data in a folder.

    `hosts` are the names and addresses it answers to beyond this machine's own; with a `code` nobody reads or writes
    before entering it. `behind_proxy` where all requests come through one: then nobody asks from this machine. Raises StoreTrouble where the data cannot be used.
    """
    database = open_database(folder)
    database.info["read_plan"] = read_stored

    @asynccontextmanager
    async def life(app: FastAPI) -> AsyncIterator[None]:
        current_default_thread_limiter().total_tokens = THREADS
        yield
        app.state.events.close()
        meter.stop_all()
        database.close()

    app = FastAPI(
        title="Humble Relay",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        generate_unique_id_function=lambda route: route.name,
        lifespan=life,
        responses=problems.documented(400, 401, 403, 408, 413, 415, 500, 503, 507),
    )
    app.state.plans, app.state.shelf, app.state.code = Plans(database), Shelf(database), code
    app.state.database, app.state.names = database, list(hosts)
    app.state.photographs = Photographs(database)
    app.state.crew, app.state.crew_tries = Crew(database), Tries()
    app.state.events = events.Events(database, database.put)
    database.committed = app.state.events.committed
    problems.install(app)
    for router in (
        plan_routes.router, asked.router, verdicts.router, papers.router, signal_routes.router, surveys.router, logs.router, setup_routes.router, fault_routes.router, events.router, crew_routes.router, photograph_routes.router, shelf_routes.router,
        catalogues.router, entering.router, examples.router, meter.router,
    ):  # fmt: skip
        app.include_router(router)
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=4)
    app.add_middleware(Doors, crew=app.state.crew, hosts=hosts, code=code, behind_proxy=behind_proxy)
    _serve_pages(app)
    _document(app)
    return app


def _serve_pages(app: FastAPI) -> None:
    pages = {p.relative_to(STATIC).as_posix(): p for p in STATIC.rglob("*") if p.is_file()}

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        if path.startswith("api/"):
            return problems.problem(404, "There is nothing at this address.")
        if path in pages:
            forever = {"Cache-Control": "public, max-age=31536000, immutable"}
            return FileResponse(pages[path], headers=forever if path.startswith("assets/") else {})
        if "index.html" not in pages:
            return problems.problem(404, "The front end is not built: run make build.")
        return FileResponse(pages["index.html"], headers={"Cache-Control": "no-cache"})


def _document(app: FastAPI) -> None:
    document = app.openapi

    def openapi() -> dict[str, object]:
        found = document()
        found["components"]["schemas"].setdefault(
            "Problem", problems.Problem.model_json_schema(ref_template="#/components/schemas/{model}")
        )
        found["components"]["schemas"]["Problem"].pop("$defs", None)
        for name in ("HTTPValidationError", "ValidationError"):
            found["components"]["schemas"].pop(name, None)
        return found

    app.openapi = openapi  # type: ignore[method-assign]
