"""The command line: demo, serve, check, export, import."""

import argparse
import sys
from datetime import UTC, datetime
from pathlib import Path

from humble_relay.core.report import Report, report
from humble_relay.formats.plan_file import UnreadableFile, read_plan, write_plan

_MARKS = {"stops": "STOPS", "risks": "RISK ", "note": "note "}


def main(argv: list[str] | None = None) -> int:
    """Runs one command; the exit status: 0 well, 1 a finding stops the show, 2 unreadable or not found."""
    args = _parser().parse_args(argv)
    try:
        status: int = args.run(args)
    except UnreadableFile as error:
        print(error, file=sys.stderr)
        return 2
    except LookupError as error:
        print(error.args[0], file=sys.stderr)
        return 2
    except OSError as error:
        print(f"{error.filename or 'file'}: {error.strerror}", file=sys.stderr)
        return 2
    return status


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="humble-relay", description="Plans and judges live video networks.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    for name, what in (
        ("demo", "serve with the demo plan loaded"),
        ("serve", "serve the plans in a data folder"),
    ):
        serve = commands.add_parser(name, help=what)
        folder = "data/demo" if name == "demo" else "data/plans"
        serve.add_argument("--data", type=Path, default=Path(folder), help=f"data folder (default {folder})")
        serve.add_argument("--host", default="127.0.0.1", help="address to listen on (default 127.0.0.1)")
        serve.add_argument("--port", type=int, default=8117, help="port to listen on (default 8117)")
        serve.set_defaults(run=_serve, demo=name == "demo")
    check = commands.add_parser("check", help="judge a plan file without a browser")
    check.add_argument("plan", type=Path)
    check.add_argument("--json", action="store_true", help="the whole report as JSON")
    check.add_argument("--as-of", type=datetime.fromisoformat, help="judge as of this moment")
    check.set_defaults(run=_check)
    export = commands.add_parser("export", help="write a plan of a data folder to a file")
    export.add_argument("id")
    export.add_argument("file", type=Path)
    export.add_argument("--keys", action="store_true", help="stream keys too")
    export.set_defaults(run=_export)
    import_ = commands.add_parser("import", help="add a plan file to a data folder")
    import_.add_argument("file", type=Path)
    import_.set_defaults(run=_import)
    for command in (export, import_):
        command.add_argument("--data", type=Path, default=Path("data/plans"))
    return parser


def _serve(args: argparse.Namespace) -> int:
    import uvicorn

    from humble_relay.demo import load_demo
    from humble_relay.web.app import make_app

    app = make_app(args.data, hosts=() if args.host in ("127.0.0.1", "localhost") else ("*",))
    path = f"plans/{load_demo(app.state.plans, app.state.shelf)}" if args.demo else ""
    print(f"Humble Relay is at http://{args.host}:{args.port}/{path} (Ctrl+C stops it)", flush=True)
    if args.host not in ("127.0.0.1", "localhost", "::1"):
        print("It answers to everybody on this network. There is no password: use a network you trust.")
    uvicorn.run(app, host=args.host, port=args.port, log_level="warning")
    return 0


def dev_app():  # type: ignore[no-untyped-def]
    """The application over the demo's data, for a server that reloads: `make dev`."""
    from humble_relay.demo import load_demo
    from humble_relay.web.app import make_app

    app = make_app(Path("data/demo"))
    load_demo(app.state.plans, app.state.shelf)
    return app


def _check(args: argparse.Namespace) -> int:
    found = read_plan(args.plan.read_bytes())
    as_of = args.as_of or datetime.now(UTC)
    result = report(found.plan, found.survey, as_of if as_of.tzinfo else as_of.replace(tzinfo=UTC))
    print(result.model_dump_json(indent=2) if args.json else _in_words(result))
    return 1 if any(f.severity == "stops" for f in result.findings) else 0


def _in_words(result: Report) -> str:
    lines = []
    for f in result.findings:
        lines += [f"{_MARKS[f.severity]} {f.wrong}", f"      {f.means}", f"      {f.do}"]
        lines += [f"      - {fix.title}{f' (needs {fix.needs})' if fix.needs else ''}" for fix in f.fixes]
    return "\n".join(lines) or "Nothing found against this plan."


def _export(args: argparse.Namespace) -> int:
    kept = _plans(args.data).get(args.id)
    args.file.write_text(write_plan(kept.plan, kept.survey, args.keys), encoding="utf-8")
    print(f"{args.file}: {kept.plan.show.name}, version {kept.version}")
    return 0


def _import(args: argparse.Namespace) -> int:
    found = read_plan(args.file.read_bytes())
    from humble_relay.web.plans import slug

    name = found.plan.show.name
    kept = _plans(args.data).create(found.plan, found.survey, slug(name), f"imported {name}")
    print(f"{kept.id}: {name}")
    return 0


def _plans(folder: Path):  # type: ignore[no-untyped-def]
    from humble_relay.store.database import open_database
    from humble_relay.store.plans import Plans

    return Plans(open_database(folder))
