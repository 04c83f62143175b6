"""The command line: demo, serve, check, export, import, backup, restore."""

import argparse
import ipaddress
import os
import sys
import threading
from contextlib import closing, suppress
from datetime import UTC, datetime
from pathlib import Path

from pydantic import TypeAdapter, ValidationError

from humble_relay.core.frozen import When
from humble_relay.core.hidden_text import length_mark
from humble_relay.core.judging.case import Case
from humble_relay.core.plan.secrets import sealed
from humble_relay.core.views.day_words import day_in_words
from humble_relay.core.views.report import report_on
from humble_relay.core.views.verdict import answer_lines, in_words, verdict_on
from humble_relay.formats.plan_file import LARGEST_BYTES, PlanFile, UnreadableFile, read_plan, write_plan
from humble_relay.meter.server import MeterServer
from humble_relay.store.trouble import StoreTrouble

_WHEN: TypeAdapter[When] = TypeAdapter(When)


def main(argv: list[str] | None = None) -> int:
    """Runs one command; the exit status: 0 well, 1 a finding stops the show, 2 unreadable, not found or not done; of
    `check` also 3, where nothing fails and something is not known or not asked, nobody asked for anything, or with --day was not seen."""
    args = _parser().parse_args(argv)
    os.umask(0o077)
    try:
        status: int = args.run(args)
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except (UnreadableFile, StoreTrouble) as error:
        return _said(error)
    except LookupError as error:
        return _said(error.args[0])
    except OSError as error:
        return _said(f"{error.filename or 'file'}: {error.strerror}")
    except Exception as error:  # a traceback is never an answer
        from humble_relay.store.revisions import Unreadable

        if isinstance(error, Unreadable | ValueError):
            return _said(error)
        return _said(f"The program could not do this, through a fault of its own ({type(error).__name__}).")
    return status


def _meter(args: argparse.Namespace) -> int:
    with MeterServer(args.host, args.port) as meter:
        print(f"Measuring at {args.host}, port {meter.port}, TCP and UDP. Anybody who reaches it can use it: stop it (Ctrl+C) when done.", flush=True)  # fmt: skip
        with suppress(KeyboardInterrupt):
            threading.Event().wait()
    return 0


def _said(what: object) -> int:
    print(what, file=sys.stderr)
    return 2


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
        serve.add_argument(
            "--name", action="append", default=[], dest="names",
            help="a name or address others call this machine by; may be given several times",
        )  # fmt: skip
        serve.add_argument("--cert", type=Path, help="certificate (PEM), to encrypt what is sent")
        serve.add_argument("--key", type=Path, help="key of the certificate (PEM)")
        serve.add_argument(
            "--proxy", action="append", default=[], dest="proxies", type=_address,
            help="address of a proxy that all requests come through; may be given several times",
        )  # fmt: skip
        serve.set_defaults(run=_serve, demo=name == "demo")
    meter = commands.add_parser("meter", help="be the far end of upload measurements, until stopped")
    meter.add_argument(
        "--host", default="127.0.0.1", help="address to listen on (default 127.0.0.1: this machine only)"
    )
    meter.add_argument("--port", type=int, default=8118, help="port to listen on, TCP and UDP (default 8118)")
    meter.set_defaults(run=_meter)
    check = commands.add_parser("check", help="judge a plan file without a browser")
    check.add_argument("plan", type=Path)
    check.add_argument("--json", action="store_true", help="findings, facts wanted and proofs as JSON")
    check.add_argument(
        "--answers", action="store_true", help="with --json: every answer too, with what was compared"
    )
    check.add_argument("--as-of", type=_moment, help="judge as of this moment")
    check.add_argument(
        "--day",
        action="store_true",
        help="what of the set-up was seen today too; the status is 3 while some was not",
    )
    check.set_defaults(run=_check)
    allocate = commands.add_parser(
        "allocate", help="the best that fits the uplinks of a plan file, with its runner-up and prices"
    )
    allocate.add_argument("plan", type=Path)
    allocate.add_argument("--json", action="store_true", help="as JSON, with the edits that make it")
    allocate.add_argument("--as-of", type=_moment, help="judge as of this moment")
    allocate.add_argument(
        "--apply",
        type=Path,
        metavar="FILE",
        help="write the plan after them to this file, its keys as they are",
    )
    allocate.set_defaults(run=_allocate)
    export = commands.add_parser("export", help="write a plan of a data folder to a file")
    export.add_argument("id")
    export.add_argument("file", type=Path)
    export.add_argument("--keys", action="store_true", help="keys and passwords too")
    export.add_argument("--replace", action="store_true", help="write over a file that is there")
    export.set_defaults(run=_export)
    import_ = commands.add_parser("import", help="add a plan file to a data folder")
    import_.add_argument("file", type=Path)
    import_.set_defaults(run=_import)
    backup = commands.add_parser("backup", help="copy a data folder, in use or not, into one file")
    backup.add_argument("file", type=Path)
    backup.set_defaults(run=_backup)
    restore = commands.add_parser("restore", help="put a backup in a data folder's place")
    restore.add_argument("file", type=Path)
    restore.set_defaults(run=_restore)
    for command in (export, import_, backup, restore):
        command.add_argument("--data", type=Path, default=Path("data/plans"))
    return parser


def _moment(text: str) -> datetime:
    try:
        found = datetime.fromisoformat(text)
        return _WHEN.validate_python(found if found.tzinfo else found.replace(tzinfo=UTC))
    except (ValueError, ValidationError):
        raise argparse.ArgumentTypeError(
            f"{text} is no moment: write one such as 2026-09-14T10:00+01:00, between 2000 and 2099"
        ) from None


def _address(text: str) -> str:
    try:
        return str(ipaddress.ip_address(text))
    except ValueError:
        raise argparse.ArgumentTypeError(f"{text} is no address: write one such as 192.168.20.2") from None


def _serve(args: argparse.Namespace) -> int:
    from humble_relay.demo import load_demo
    from humble_relay.store.backup import in_use
    from humble_relay.web.app import make_app
    from humble_relay.web.code import Code
    from humble_relay.web.serving import Tls, is_here, names_for, new_code, serve

    if bool(args.cert) != bool(args.key):
        raise ValueError("A certificate goes with its key: say both --cert and --key, or neither.")
    tls = Tls(args.cert, args.key) if args.cert else None
    if tls:
        tls.check()
    here = is_here(args.host) and not args.proxies
    names, code = names_for(args.host, args.names), None if here else new_code()
    with in_use(args.data):
        entered = Code(code) if code else None
        app = make_app(args.data, hosts=names, code=entered, behind_proxy=bool(args.proxies))
        path = f"plans/{load_demo(app.state.plans, app.state.shelf)}" if args.demo else ""
        name = names[0] if ":" not in names[0] else f"[{names[0]}]"
        print(
            f"Humble Relay is at http{'s' if tls else ''}://{name}:{args.port}/{path} (Ctrl+C stops it)",
            flush=True,
        )
        if code:
            print(
                f"It can be reached from the network. The code to enter it with: {code}\n"
                + (
                    "What is sent is encrypted with your certificate."
                    if tls
                    else "What is sent is not encrypted, keys neither (--cert and --key encrypt it): use a network you trust, and never one that is open to the internet."
                ),
                flush=True,
            )
        serve(app, args.host, args.port, tls, args.proxies)
    return 0


def dev_app():  # type: ignore[no-untyped-def]
    """The application over the demo's data, for a server that reloads: `make dev`."""
    from humble_relay.demo import load_demo
    from humble_relay.web.app import make_app

    app = make_app(Path("data/demo"))
    load_demo(app.state.plans, app.state.shelf)
    return app


def _check(args: argparse.Namespace) -> int:
    found = _plan_in(args.plan)
    count: dict[str, str] = {}

    def put(secret: str) -> str:
        return count.setdefault(secret, f"•{len(count) + 1:08x}{length_mark(secret)}•")

    case = Case(sealed(found.plan, put), sealed(found.survey, put), args.as_of or datetime.now(UTC))
    if args.day and args.json:
        raise ValueError("--day is told in words: leave --json out.")
    if args.answers and not args.json:
        raise ValueError("--answers goes with --json: say both.")
    verdict = verdict_on(case)
    if args.answers:
        verdict = verdict.model_copy(update={"answers": answer_lines(case)})
    print(
        verdict.model_dump_json(indent=2, exclude=None if args.answers else {"answers"})
        if args.json
        else "\n".join(in_words(case, verdict))
    )
    if not args.day:
        return verdict.status
    day = day_in_words(case, found.log, args.as_of or datetime.now(UTC))
    print("\n".join(day.lines))
    return verdict.status if verdict.status or day.all_seen else 3


def _allocate(args: argparse.Namespace) -> int:
    if args.apply and args.apply.exists():
        return _said(f"{args.apply} is there already and was left as it is: choose another name.")
    found, moment = _plan_in(args.plan), args.as_of or datetime.now(UTC)
    from humble_relay.core.allocation.outcome import allocation
    from humble_relay.core.views.allocation_words import lines_of

    told = allocation(Case(sealed(found.plan, lambda _: "•hidden•"), found.survey, moment))
    print(told.model_dump_json(indent=2) if args.json else "\n".join(lines_of(told)))
    if told.best is None:
        return 1
    if args.apply:
        case = Case(found.plan, found.survey, moment)
        best = allocation(case).best
        assert best
        args.apply.write_text(
            write_plan(case.after(best.edits).intended, found.survey, True), encoding="utf-8"
        )
    return 0


def _plan_in(file: Path) -> PlanFile:
    with file.open("rb") as data:  # one byte more than the largest: enough to be refused, and no more is read
        return read_plan(data.read(LARGEST_BYTES + 1))


def _export(args: argparse.Namespace) -> int:
    if args.file.exists() and not args.replace:
        return _said(
            f"{args.file} is there already and was left as it is: choose another name, or say --replace."
        )
    from humble_relay.store.database import open_database
    from humble_relay.store.plans import Plans

    with closing(open_database(args.data, make=False)) as database:
        plans = Plans(database)
        kept, log = plans.get(args.id), plans.log(args.id)
    fresh = args.file.with_name(f"{args.file.name}.part")
    fresh.write_text(write_plan(kept.clear, log, args.keys), encoding="utf-8")
    fresh.replace(args.file)
    print(f"{args.file}: {kept.plan.show.name}, version {kept.version}")
    return 0


def _import(args: argparse.Namespace) -> int:
    found = _plan_in(args.file)
    from humble_relay.store.backup import in_use
    from humble_relay.store.database import open_database
    from humble_relay.store.kept import Kept
    from humble_relay.store.plans import Plans
    from humble_relay.web.plan_routes import plan_id

    def judge(kept: Kept) -> Kept:
        report_on(Case(kept.plan, kept.survey, datetime.now(UTC), kept.stock))
        return kept

    name = found.plan.show.name
    with in_use(args.data), closing(open_database(args.data)) as database:
        kept = Plans(database).create(found.plan, found.log, plan_id(name), f"imported {name}", judge=judge)
    print(f"{kept.id}: {kept.plan.show.name}")
    return 0


def _backup(args: argparse.Namespace) -> int:
    from humble_relay.store.backup import back_up

    found = back_up(args.data, args.file)
    print(f"{args.file}: {found.plans} plans, {found.revisions} revisions, {found.entries} log entries.")
    print("Keys and passwords are in it: keep it where only you read.")
    return 0


def _restore(args: argparse.Namespace) -> int:
    from humble_relay.store.backup import restore

    found, aside = restore(args.file, args.data)
    print(f"{args.data}: {found.plans} plans, {found.revisions} revisions, {found.entries} log entries.")
    if aside:
        print(f"What was there before is kept as {aside}.")
    return 0
