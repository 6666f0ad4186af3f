"""The command line: serve, demo, check, rehearse, overview, card, export, import, backup, restore,
devices, schema."""

from __future__ import annotations

import argparse
import codecs
import gc
import io
import json
import os
import sqlite3
import sys
import threading
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from reamer import __version__
from reamer.core.errors import PlanError
from reamer.store.database import StoreError, trouble

if TYPE_CHECKING:
    from reamer.core.assess import Assessment
    from reamer.core.descent.in_hand import InHand
    from reamer.core.descent.prospect import Prospect
    from reamer.core.model import Plan
    from reamer.core.rehearsal.rehearsal import Rehearsal, StationRun
    from reamer.core.second.check import Checked
    from reamer.desk.worked import Worked
    from reamer.devices.lines import Kind

# What the format of a plan file is called, for as long as it is read.
SCHEMA = "urn:reamer:plan:1"
EXIT_CLEAR, EXIT_FOUND, EXIT_UNREADABLE = 0, 1, 2


def tune_memory() -> None:
    """An assessment makes tens of thousands of small objects that all live: looking for cycles less often saves a
    fifth of its time, and keeps it in proportion to the number of drops."""
    gc.set_threshold(300_000, 20, 50)


def default_database() -> Path:
    """Where plans are kept unless told otherwise."""
    return Path(os.environ.get("REAMER_DATA", Path.home() / ".local" / "share" / "reamer")) / "plans.sqlite3"


# What stands for a character in a terminal that has only ASCII.
PLAIN = {
    "–": "-",
    "−": "-",
    "“": '"',
    "”": '"',
    "’": "'",
    "·": "|",
    "…": "...",
    "×": "x",
    "±": "+-",
    "°": " deg",
    "→": "->",
    "²": "2",
    "³": "3",
    "μ": "mu",
}


def plainly() -> None:
    """Let a terminal that cannot show a character show what stands for it, instead of failing."""

    def plain(e: UnicodeError) -> tuple[str, int]:
        if not isinstance(e, UnicodeEncodeError):
            raise e
        return "".join(PLAIN.get(c, "?") for c in e.object[e.start : e.end]), e.end

    codecs.register_error("plain", plain)
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="plain")


def _port(text: str) -> int:
    if not (text.isascii() and text.isdigit() and 1 <= int(text) <= 65535):
        raise argparse.ArgumentTypeError(f"a port is a whole number from 1 to 65535, not {text[:20]!r}")
    return int(text)


def _parser() -> argparse.ArgumentParser:
    """Every command with what it takes."""
    parser = argparse.ArgumentParser(prog="reamer", description="Plan descents on retrievable ropes.")
    parser.add_argument("--version", action="version", version=f"reamer {__version__}")
    commands = parser.add_subparsers(dest="command", required=True)
    serve = commands.add_parser("serve", help="start the application on 127.0.0.1")
    serve.add_argument("--port", type=_port, default=8420, help="port (default 8420)")
    serve.add_argument("--database", type=Path, default=None, help="the SQLite file that holds the plans")
    serve.add_argument("--demo", action="store_true", help="add the demonstration plans if there are no plans")
    serve.add_argument("--open", action="store_true", help="open it in a browser, where there is a display")
    serve.add_argument("--share", action="store_true", help="show chosen cards to phones in the room, on a second port")
    serve.add_argument("--share-port", type=_port, default=8421, help="that port (default 8421)")
    serve.add_argument("--share-address", default="", help="where they are shown (default: this machine's own)")
    demo = commands.add_parser("demo", help="print a demonstration plan")
    demo.add_argument("name", help="canyon, buttress or gully")
    check = commands.add_parser(
        "check", help="assess a plan file: exit 0 no shortfall and nothing open, 1 something is, 2 unreadable"
    )
    check.add_argument("--json", action="store_true", help="print the whole assessment as JSON")
    rehearse = commands.add_parser(
        "rehearse", help="go through the descent act by act: exit 0 no hazard, 1 hazard or not checked, 2 unreadable"
    )
    rehearse.add_argument("--station", type=int, default=0, help="only this station, by its number")
    rehearse.add_argument("--person", default="", help="only what holds this person, by name")
    rehearse.add_argument("--json", action="store_true", help="print the rehearsal as JSON")
    hand = commands.add_parser(
        "in-hand", help="say what is in hand if a rope sticks; exits 1 where somebody is stranded"
    )
    hand.add_argument("--station", type=int, default=0, help="only this station, by its number")
    hand.add_argument("--json", action="store_true", help="print it as JSON")
    sheet = commands.add_parser("overview", help="write the whole descent on one sheet, as SVG or PNG")
    sheet.add_argument("--out", type=Path, required=True, help="the file to write: .svg or .png")
    card = commands.add_parser("card", help="write the card that goes along, as PDF or as one HTML file")
    card.add_argument("--out", type=Path, required=True, help="the file to write: .pdf or .html")
    card.add_argument("--paper", choices=("a5", "a4"), default="a5", help="size of the pages (default a5)")
    card.add_argument("--station", type=int, default=0, help="of a PDF only this station, by its number")
    export = commands.add_parser("export", help="write a plan's places, times or tables in an open format")
    export.add_argument("--what", choices=("places", "times", "shots", "shed", "party", "pull tests"), default="places")
    export.add_argument("--out", type=Path, required=True, help="the file to write: .gpx, .geojson, .ics or .csv")
    into = commands.add_parser("import", help="take a file into a plan: .gpx, .csv, .json; says what changes")
    into.add_argument("file", type=Path, help="the file")
    into.add_argument("--into", required=True, help="a plan file, or - for standard input")
    into.add_argument(
        "--decimal", choices=(".", ","), default="", help="the sign before decimals where a table leaves it open"
    )
    into.add_argument("--out", type=Path, help="the plan file to write; without it nothing is written")
    out = commands.add_parser("backup", help="write the whole library as one file")
    out.add_argument("--out", type=Path, required=True, help="the file to write")
    back = commands.add_parser("restore", help="put a backup in the library's place; what was there is kept beside it")
    back.add_argument("file", type=Path, help="a backup")
    for one in (out, back):
        one.add_argument("--database", type=Path, default=None, help="the library (default as for serve)")
    devices = commands.add_parser("devices", help="start simulated instruments on this machine, to try the links with")
    for name, port in (("rangefinder", 8431), ("load-cell", 8432), ("gauge", 8433)):
        devices.add_argument(f"--{name}", type=_port, default=port, help=f"its port (default {port})")
    for one in (check, rehearse, hand, sheet, card, export):
        one.add_argument("plan", help="a plan file, or - for standard input")
        one.add_argument("--units", choices=("metric", "us"), default="metric", help="units of what is written")
    commands.add_parser("schema", help="print the plan's JSON Schema")
    return parser


def main(argv: list[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    plainly()
    args = _parser().parse_args(argv)
    try:
        run = {
            "serve": _serve,
            "demo": _demo,
            "check": _check,
            "rehearse": _rehearse,
            "in-hand": _in_hand,
            "overview": _overview,
            "card": _card,
            "schema": _schema,
            "export": _export,
            "import": _import,
            "backup": _backup,
            "restore": _restore,
            "devices": _devices,
        }
        return run[args.command](args)
    except PlanError as e:
        print(f"reamer: {e}", file=sys.stderr)
        return EXIT_UNREADABLE
    except (StoreError, sqlite3.Error) as e:
        print(
            f"reamer: {getattr(args, 'database', None) or default_database()}:"
            f" {trouble(e) if isinstance(e, sqlite3.Error) else e}",
            file=sys.stderr,
        )
        return EXIT_UNREADABLE
    except BrokenPipeError:
        sys.stderr.close()
        return EXIT_UNREADABLE


def _serve(args: argparse.Namespace) -> int:
    from contextlib import closing

    from reamer.core.onsite.handed import MOST_BYTES
    from reamer.demos import DEMOS
    from reamer.desk.desk import Desk
    from reamer.desk.saves import create
    from reamer.web import create_app, most_bytes
    from reamer.web.listen import IDLE_S
    from reamer.web.settings import Settings
    from reamer.web.share import create_share_app, own_address

    tune_memory()
    database = args.database or default_database()
    address = (args.share_address or own_address()) if args.share else ""
    settings = Settings(database, args.port, share=f"{address}:{args.share_port}" if address else "")
    app = create_app(settings)
    if args.demo:
        with closing(Desk(database, app.extensions["memory"])) as desk:
            if not desk.plans.listed() and not desk.plans.listed(deleted=True):
                for name, make in DEMOS.items():
                    create(desk, make(), "created from the demonstration", origin=f"demo:{name}")
    server = _listening(app, "127.0.0.1", args.port, "--port", most_bytes(app), IDLE_S)
    if server is None:
        return EXIT_UNREADABLE
    if address:
        room, most = create_share_app(app.extensions["shared"]), lambda *_: MOST_BYTES
        # Phones ask once and are gone; nobody in the room may keep the others out by saying nothing.
        second = _listening(room, address, args.share_port, "--share-port", most, 15)
        if second is None:
            return EXIT_UNREADABLE
        threading.Thread(target=second.run, daemon=True).start()
        print(f"Chosen cards are shown at http://{address}:{args.share_port}, and nothing else", flush=True)
    print(f"Reamer is at http://127.0.0.1:{args.port}  (plans in {database}; Ctrl-C stops it)", flush=True)
    if args.open and (
        sys.platform in ("darwin", "win32") or os.environ.get("DISPLAY", os.environ.get("WAYLAND_DISPLAY"))
    ):
        import webbrowser

        webbrowser.open(f"http://127.0.0.1:{args.port}")
    server.run()
    return EXIT_CLEAR


def _listening(app: Any, host: str, port: int, option: str, most: Callable[[str, str], int], idle_s: int) -> Any:
    """A server that listens already, None where it cannot; then why was printed."""
    from reamer.web.listen import listening

    try:
        return listening(app, host, port, most, idle_s=idle_s)
    except OSError as e:
        why = f"port {port} on {host} cannot be used: {e.strerror}; choose another with {option}"
        print(f"reamer: {why}", file=sys.stderr)
        return None


def _devices(args: argparse.Namespace) -> int:
    import asyncio

    from reamer.devices.simulated import serve_all

    ports: dict[Kind, int] = {"rangefinder": args.rangefinder, "load cell": args.load_cell, "gauge": args.gauge}
    try:
        asyncio.run(serve_all(ports, lambda said: print(said, flush=True)))
    except OSError as e:
        print(f"reamer: a port cannot be used: {e.strerror or e}", file=sys.stderr)
        return EXIT_UNREADABLE
    except KeyboardInterrupt:
        pass
    return EXIT_CLEAR


def _written(out: Path, data: str | bytes) -> int:
    try:
        out.write_bytes(data.encode() if isinstance(data, str) else data)
    except OSError as e:
        raise PlanError("--out", f"{out}: {e.strerror}") from None
    return EXIT_CLEAR


def _export(args: argparse.Namespace) -> int:
    import datetime as dt

    from reamer.formats.calendar import calendar
    from reamer.formats.outgoing import written
    from reamer.formats.tables import write
    from reamer.formats.tracks import gpx, maps

    found = _worked(args.plan)
    ending = args.out.suffix
    fit = {"places": (".gpx", ".geojson"), "times": (".ics",)}.get(args.what, (".csv",))
    if ending not in fit:
        raise PlanError("--out", f"{args.what} are written as {' or '.join(fit)}")
    for said in written(f"{args.what.replace(' ', '-')}{ending}", found.plan, found.a, ()):
        print(said, file=sys.stderr)
    if args.what == "places":
        return _written(args.out, gpx(found.plan) if ending == ".gpx" else maps(found.plan))
    if args.what == "times":
        return _written(args.out, calendar(found.plan, found.a, found.standing.tally, dt.datetime.now(dt.UTC)))
    return _written(args.out, write(args.what, found.plan, (), args.units))


def _import(args: argparse.Namespace) -> int:
    from reamer.core.reading import beside, parse, read_file
    from reamer.formats.importing import look

    had = read_file(parse(_read(args.into)))
    try:
        made = look(had.plan, args.file.name, args.file.read_bytes(), args.decimal)
    except OSError as e:
        raise PlanError("file", f"{args.file}: {e.strerror}") from None
    if made.trips:
        raise PlanError("file", "a log is not part of a plan file; take it in under Log")
    for said in made.changes or ("nothing changes",):
        print(said)
    for said in made.left:
        print(f"not taken: {said}", file=sys.stderr)
    if args.out is None:
        return EXIT_CLEAR
    whole = {**made.plan.model_dump(mode="json"), **beside(*had[1:])}
    return _written(args.out, json.dumps(whole, ensure_ascii=False, indent=1))


def _backup(args: argparse.Namespace) -> int:
    from contextlib import closing

    from reamer.desk.desk import Desk
    from reamer.desk.library import back_up_to, prepare
    from reamer.desk.memory import Memory

    database = args.database or default_database()
    if not database.is_file():
        raise PlanError("--database", f"{database} is not there")
    prepare(database)
    try:
        with closing(Desk(database, Memory())) as desk:
            held = back_up_to(desk, args.out)
    except OSError as e:
        raise PlanError("--out", f"{args.out}: {e.strerror}") from None
    print(f"{args.out}: {held.plans} plans, {held.revisions} revisions, {held.descents} descents")
    return EXIT_CLEAR


def _restore(args: argparse.Namespace) -> int:
    import shutil
    import tempfile
    from contextlib import closing

    from reamer.desk.desk import Desk
    from reamer.desk.library import prepare, restore
    from reamer.desk.memory import Memory
    from reamer.store.backup import look

    database = args.database or default_database()
    with tempfile.TemporaryDirectory() as folder:
        # Looked at on a copy: the backup itself is not touched.
        copy = Path(folder) / "restore.sqlite3"
        try:
            shutil.copyfile(args.file, copy)
        except OSError as e:
            raise PlanError("file", f"{args.file}: {e.strerror}") from None
        held = look(copy)
        prepare(database)
        before = database.with_name(f"{database.stem}-before.sqlite3")
        with closing(Desk(database, Memory())) as desk:
            restore(desk, copy, before)
    print(f"{database}: {held.plans} plans, {held.revisions} revisions, {held.descents} descents")
    print(f"what was there before: {before}")
    for title in held.unreadable:
        print(f"cannot be read by this program: {title}", file=sys.stderr)
    return EXIT_CLEAR


def _demo(args: argparse.Namespace) -> int:
    from reamer.demos import DEMOS

    if args.name not in DEMOS:
        raise PlanError("name", f"no demonstration {args.name!r}; there are {', '.join(DEMOS)}")
    print(DEMOS[args.name]().model_dump_json(indent=2))
    return EXIT_CLEAR


def _schema(_: argparse.Namespace) -> int:
    from reamer.core.reading import PlanFile

    schema = {"$id": SCHEMA, "$schema": "https://json-schema.org/draft/2020-12/schema", **PlanFile.model_json_schema()}
    print(json.dumps(schema, indent=2, ensure_ascii=False))
    return EXIT_CLEAR


def _read(path: str) -> bytes:
    from reamer.core.reading import MOST_BYTES

    try:
        if path == "-":
            return sys.stdin.buffer.read(MOST_BYTES + 1)
        with open(path, "rb") as f:
            return f.read(MOST_BYTES + 1)
    except OSError as e:
        raise PlanError("", f"{path}: {e.strerror}") from None


def _worked(path: str) -> Worked:
    """What can be worked out of a plan file, with what was said of it and what its things have been through, as of
    today."""
    import datetime as dt

    from reamer.core.model import Gear
    from reamer.core.reading import parse, read_file
    from reamer.desk.memory import Memory, been
    from reamer.desk.worked import Worked, basis

    plan, record, gear = read_file(parse(_read(path)))
    through = been(Gear(dt.date.today(), gear.records))
    return Worked(basis(plan, plan.model_dump_json(), through, record), Memory())


def _check(args: argparse.Namespace) -> int:
    from reamer.core.assess import assess
    from reamer.core.offers import offers, with_offers
    from reamer.core.rehearsal.rehearsal import rehearsal
    from reamer.formats.report import report

    found = _worked(args.plan)
    got, tried = found.answers, offers(found.ctx, found.memory.parts)
    acts = rehearsal(found.ctx, found.play)
    if args.json:
        from pydantic import TypeAdapter

        from reamer.core.answer.working import Working

        a = with_offers(assess(found.plan, gear=found.ctx.gear), tried)
        workings = TypeAdapter(dict[str, tuple[Working, ...]]).dump_python(a.workings, mode="json")
        whole = {**_plain(a), "workings": workings, "prospect": _plain(got.ahead), "rehearsal": _plain(acts)}
        print(json.dumps({**whole, "check": _plain(got.checked)}, indent=2, ensure_ascii=False))
    else:
        print(report(got.plan, with_offers(got.a, tried), args.units, got.ahead, acts, got.checked))
    return EXIT_CLEAR if got.checked.tally.clear else EXIT_FOUND


def _card(args: argparse.Namespace) -> int:
    from reamer.formats.card import card
    from reamer.formats.html import html
    from reamer.formats.pdf import pdf
    from reamer.web.settings import card_parts

    if args.out.suffix not in (".pdf", ".html"):
        raise PlanError("--out", "the card is written as .pdf or .html")
    got = _worked(args.plan)
    only = tuple(got.plan.drops[k].id for k in _stations(args, got.plan)) if args.station else ()
    made = card(got.answers, args.units)
    return _written(args.out, pdf(made, args.paper, only) if args.out.suffix == ".pdf" else html(made, *card_parts()))


def _stations(args: argparse.Namespace, plan: Plan) -> list[int]:
    """The places, from 0, of the stations that were asked for. Raises PlanError where there is none of that number."""
    if args.station and not 1 <= args.station <= len(plan.drops):
        raise PlanError("--station", f"the plan has stations 1 to {len(plan.drops)}, not {args.station}")
    return [k for k in range(len(plan.drops)) if args.station in (0, k + 1)]


def _in_hand(args: argparse.Namespace) -> int:
    from reamer.core.answer.say import words

    found = _worked(args.plan)
    made = [found.in_hand(found.plan.drops[k].id) for k in _stations(args, found.plan)]
    if args.json:
        print(json.dumps([_plain(m) for m in made], indent=2, ensure_ascii=False))
    else:
        print("If the rope sticks")
        for m in made:
            print(f"{m.number}  {found.plan.drops[m.number - 1].name}", f"    {words(m.said, args.units)}", sep="\n")
    bad = any(m.why or any(s.leaves in ("stranded", "not checked") for s in m.stretches) for m in made)
    return EXIT_FOUND if bad else EXIT_CLEAR


def _rehearse(args: argparse.Namespace) -> int:
    from reamer.core.rehearsal.rehearsal import rehearsal, station_run
    from reamer.formats.rehearsed import rehearsed

    found = _worked(args.plan)
    plan, ctx = found.plan, found.ctx
    some = _stations(args, plan)
    who = next((p.id for p in plan.party if p.name.casefold() == args.person.casefold()), "")
    if args.person and not who:
        names = ", ".join(p.name for p in plan.party) or "nobody"
        raise PlanError("--person", f"nobody named {args.person[:60]!r}; in the party are {names}")
    got = rehearsal(ctx, found.play)
    runs = [station_run(ctx, found.play, k) for k in some]
    if args.json:
        whole = {**_plain(got), "runs": [_plain(r) for r in runs]}
        print(json.dumps(whole, indent=2, ensure_ascii=False))
    else:
        print(rehearsed(plan, got, runs, args.units, who))
    drops = {r.drop for r in runs}
    bad = [f.severity for f in got.findings if not args.station or f.subject.drop in ("", *drops)]
    bad += [h.severity for h in got.hazards if h.drop in drops]
    return EXIT_FOUND if any(s in ("Shortfall", "Not checked") for s in bad) else EXIT_CLEAR


def _plain(answer: Assessment | Prospect | Rehearsal | StationRun | Checked | InHand) -> dict[str, Any]:
    """An answer as plain data, as the API gives it."""
    from pydantic import TypeAdapter

    made: dict[str, Any] = TypeAdapter(type(answer)).dump_python(answer, mode="json")
    return made


def _overview(args: argparse.Namespace) -> int:
    from reamer.desk.papers import sheet
    from reamer.figures.svg import png

    if args.out.suffix not in (".svg", ".png"):
        raise PlanError("--out", "the figure is written as .svg or .png")
    made = sheet(_worked(args.plan), args.units)
    return _written(args.out, png(made) if args.out.suffix == ".png" else made)


if __name__ == "__main__":
    sys.exit(main())
