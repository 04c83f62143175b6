"""The application: routers, errors, guards, and the built front end."""

from collections.abc import Awaitable, Callable
from importlib.resources import files
from pathlib import Path

from fastapi import FastAPI, Request, Response
from fastapi.responses import FileResponse
from starlette.middleware.gzip import GZipMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware

from humble_relay import __version__
from humble_relay.store.database import open_database
from humble_relay.store.plans import Plans
from humble_relay.store.shelf import Shelf
from humble_relay.web import catalogues, plans, problems, shelf, signal, surveys

STATIC = Path(str(files("humble_relay.web"))) / "static"
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:; "
    "connect-src 'self'; form-action 'none'; frame-ancestors 'none'; base-uri 'none'"
)


def make_app(folder: Path, hosts: tuple[str, ...] = ()) -> FastAPI:
    """The application over the data in a folder; `hosts` are names it answers to beyond this machine's own."""
    app = FastAPI(
        title="Humble Relay",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        generate_unique_id_function=lambda route: route.name,
    )
    engine = open_database(folder)
    app.state.plans, app.state.shelf = Plans(engine), Shelf(engine)
    problems.install(app)
    for router in (plans.router, signal.router, surveys.router, shelf.router, catalogues.router):
        app.include_router(router)
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=4)
    app.add_middleware(problems.BodyLimit)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=["127.0.0.1", "localhost", "[::1]", *hosts])

    @app.middleware("http")
    async def _guard(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
        if request.method not in ("GET", "HEAD") and request.headers.get("sec-fetch-site") == "cross-site":
            return problems.problem(403, "Changes are taken from Humble Relay's own pages only.")
        response = await call_next(request)
        response.headers["Content-Security-Policy"] = POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        if request.url.path.startswith("/api/"):
            response.headers["Cache-Control"] = "no-store"
        return response

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        wanted = (STATIC / path).resolve()
        if path.startswith("api/"):
            return problems.problem(404, "There is nothing at this address.")
        if path and wanted.is_file() and wanted.is_relative_to(STATIC.resolve()):
            kept = (
                {"Cache-Control": "public, max-age=31536000, immutable"} if path.startswith("assets/") else {}
            )
            return FileResponse(wanted, headers=kept)
        if not (STATIC / "index.html").is_file():
            return problems.problem(404, "The front end is not built: run make build.")
        return FileResponse(STATIC / "index.html", headers={"Cache-Control": "no-cache"})

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
    return app
