"""The program behind `./keen`: its subcommands, on the database given by DATABASE_URL."""

import argparse
import itertools
import os
import sys
from collections.abc import Callable
from datetime import date
from pathlib import Path
from time import sleep
from urllib.parse import urlsplit

from . import clock
from .core.errors import CoreError
from .core.limits import POLICY_WORDS
from .core.review import study_lines
from .core.roles import at_the_machine, by_folder
from .core.terms import LEVELS, ROLES
from .storage.backup import backup, restore
from .storage.backups_kept import backup_key, home, kept
from .storage.db import single
from .storage.errors import StorageError
from .storage.migrate import drop_database, ensure_database, migrate, pending, web_login
from .storage.records import number, run, set_setting, setting
from .usecases.errors import CannotRecord, NoLimits
from .usecases.exporting import export_folder
from .usecases.importing.files import import_files
from .usecases.importing.task import ImportReport
from .usecases.importing.watched import TRAY, Watch
from .usecases.judging import learning, publishing
from .usecases.judging.judging import (
    GRAVER,
    Judged,
    became_graver,
    follow_rules,
    judge_stale,
)
from .usecases.judging.library import publish_shipped
from .usecases.judging.unjudged import try_again
from .usecases.people import add_person, set_role

LOOK_EVERY_S = 5.0  # between two looks at a watched folder; our choice
BENCHES = ("usual", "scale", "web", "load", "faults", "detection")


def say(text: str) -> None:
    print(f"  {text}", flush=True)


def _free_name(folder: Path, name: str) -> Path:
    """A backup's file of this name, or with the next number behind it: none is written over, and
    none keeps the program from starting."""
    numbered = (f"-{n}" if n > 1 else "" for n in itertools.count(1))
    return next(f for end in numbered if not (f := folder / f"{name}{end}.keen").exists())


def prepare(url: str) -> None:
    """The database at this program's schema, with limits to judge by. A backup goes before a
    migration."""
    ensure_database(url)
    waiting = pending(url)
    if waiting and waiting[0] > 1:
        home().mkdir(parents=True, exist_ok=True)
        file = _free_name(home(), f"before-migration-{clock.now():%Y%m%d-%H%M%S}")
        backup(url, file.resolve(), backup_key())
        say(f"backup before the migration: {file}")
    if migrate(url):
        say("database schema brought up to date")
    if secret := os.environ.get("KEEN_WEB_SECRET"):
        web_login(url, secret)
    with single(url) as connection:
        if name := publish_shipped(connection):
            say(f"limits published: {name}")
        try_again(connection)
        if follow_rules(connection) and number(connection, "stale_count"):
            say("the rules of judging have changed: every sample is judged again")


def prepare_(url: str, options: argparse.Namespace) -> int:
    """What the owner of the database does before the program serves it: schema, login of the web
    process, the demo's data."""
    if options.demo and options.fresh:
        answer = input("Start the demo over? What you changed in it is lost. Type yes: ")
        if answer.strip().lower() != "yes":
            say("kept as it was")
        else:
            drop_database(url)
    prepare(url)
    if options.demo:
        from .demo.load import load
        from .demo.resort import ZONE

        with single(url) as connection:
            loaded, engines = (
                setting(connection, "demo_loaded"),
                number(connection, "count_engines"),
            )
            begun = setting(connection, "demo_begun")
        if loaded is None and begun is not None:
            say("the first load of the demo was interrupted; it is started over")
            drop_database(url)
            prepare(url)
            engines = 0
        if loaded is None and engines:
            print(
                "keen: this database holds other data; the demo only goes into an empty one",
                file=sys.stderr,
            )
            return 1
        if loaded is None:
            with single(url) as connection:
                set_setting(connection, "demo_begun", clock.today().isoformat())
            load(url, date.fromisoformat(options.date) if options.date else clock.today(ZONE), say)
    return 0


def empty_box(url: str, options: argparse.Namespace) -> int:
    """Drop the database of a box; no other."""
    if not urlsplit(url).path.endswith("_box"):
        raise CannotRecord("no_box", "this is no box: only the demo's data in a box is emptied so")
    drop_database(url)
    return 0


def serve(url: str, options: argparse.Namespace) -> int:
    """Serve. `--prepared`: the login may be one that owns nothing."""
    from .api.server import run_server

    if not options.prepared:
        prepare(url)
    return run_server(
        url, options.port, Path(options.address_file) if options.address_file else None
    )


def keep_backups(url: str, options: argparse.Namespace) -> int:
    """A backup where none was made for a day, and a trial of the newest once a week."""
    for said in kept(url, Path(options.folder), clock.now()):
        say(said)
    return 0


def show_report(r: ImportReport) -> None:
    """An import's result for the terminal."""
    for f in r.files:
        line = f"{f.name}: {f.rows} rows, {f.added} new, {f.known} already known"
        say(line + (f"; {f.note}" if f.note else ""))
        if f.ignored:
            say(f"  columns not read: {', '.join(f.ignored)}")
    for a in r.amendments:
        say(f"amended, waits for a person under Exchange: {a.what} ({a.new})")
    for change in r.changes:
        say(
            f"on record otherwise: {change.what}: {change.old or 'empty'} → {change.new or 'empty'}"
        )
    for p in r.problems:
        where = ", ".join(x for x in (p.file, f"row {p.row}" if p.row else "", p.column or "") if x)
        print(f"  {where}: {p.what}; {p.fix}", file=sys.stderr)
    if r.problem_count:
        print(
            f"keen: nothing was imported: {r.problem_count} problem(s)"
            + (f", the first {len(r.problems)} shown" if r.problem_count > len(r.problems) else ""),
            file=sys.stderr,
        )
    elif r.changes and not r.added:
        say("changes to depots, models and engines are taken with --accept")
    elif not r.added and not r.amendments:
        say("nothing new: everything in these files is already on record")


def import_(url: str, options: argparse.Namespace) -> int:
    prepare(url)
    report = import_files(
        url,
        [(Path(p).name, Path(p)) for p in options.files],
        at_the_machine(options.by),
        options.accept,
        options.preview,
        as_record=options.as_record,
    )
    show_report(report)
    if report.problem_count:
        return 1
    if report.written:
        _judge(url)
    return 0


def watch(url: str, options: argparse.Namespace) -> int:
    """Bring in what is laid into a folder, until stopped."""
    prepare(url)
    folder = Path(options.folder)
    if not folder.is_dir():
        raise OSError(f"{folder} is no folder")
    say(f"watching {folder}; what cannot come in by itself waits in {TRAY!r} there")
    watched = Watch(folder)
    while True:
        came = list(watched.look(url, by_folder(options.by)))
        for one in came:
            said = one.why.splitlines()[0] if one.why else f"brought in, {one.added} new rows"
            say(f"{one.name}: {said}")
        if any(not one.why for one in came):
            _judge(url)
        sleep(options.every)


def _judge(url: str, every: bool = False) -> None:
    def tell(j: Judged, of: int) -> None:
        say(
            f"judged {j.engines} of {of} engines, {j.samples} samples, {j.written} verdicts changed"
        )

    judge_stale(url, every, tell)
    with single(url) as connection:
        first = publishing.is_due(connection, weekly=False)
    if first:  # the first version comes by itself; later ones only when somebody publishes them
        _publish(url, publishing.PROGRAM, preview=False, seen=False)
        judge_stale(url, False, tell)


def _publish(url: str, who: str, preview: bool, seen: bool = True) -> None:
    """Publish peers, saying which levels that changes; what nobody has `seen` lowers no engine that
    stands at Act or Stop."""
    with single(url) as connection:
        found = publishing.publish(connection, who, preview, seen)
    if found is None:
        say("no engine has a steady history yet: nothing to publish")
        return
    name, changes = found
    for x in changes["changes"]:
        signed = ", signed" if x["signed"] else ""
        say(
            f"{x['engine']} {x['sample']} of {x['on']}: {_level(x['was'])} would be "
            f"{_level(x['now'])}{signed}"
        )
    waits = not seen and changes["eased"] > 0
    what = "would publish" if preview else "not published" if waits else "published"
    say(
        f"{what} {name}: {changes['raised']} levels raised, {changes['lowered']} lowered, of "
        f"{changes['samples']} samples of {changes['tried']} engines tried"
    )
    if waits:
        say(
            f"{changes['eased']} engines that stand at Act or Stop would be lower: look at them on "
            "the Library page, and publish it there"
        )


def _level(level: int | None) -> str:
    return "not judged" if level is None else LEVELS[level]


def judge(url: str, options: argparse.Namespace) -> int:
    prepare(url)
    if options.publish_peers or options.preview:
        _publish(url, options.by, options.preview)
    if not options.preview:
        _judge(url, options.all)
        with single(url) as connection:
            graver = became_graver(connection)
        if graver:
            say(GRAVER % ", ".join(graver))
    return 0


def person(url: str, options: argparse.Namespace) -> int:
    """Somebody on the list, by the administrator at the machine."""
    prepare(url)
    with single(url) as connection:
        by = at_the_machine("administrator")
        found = add_person(connection, options.name, options.role or "analyst", by)
        if options.role and found["role"] != options.role:
            found = set_role(connection, found["name"], options.role, by)
    say(f"{found['name']} is on the list, as {ROLES[found['role']]}")
    return 0


def export(url: str, options: argparse.Namespace) -> int:
    prepare(url)
    for name, count in export_folder(url, Path(options.folder)).items():
        say(f"{name}.csv: {count} rows")
    return 0


def backup_(url: str, options: argparse.Namespace) -> int:
    prepare(url)
    counts = backup(url, Path(options.file), backup_key())
    with single(url) as connection:
        run(connection, "milestone_put", what="backup")
    say(f"{options.file}: {sum(counts.values())} rows in {len(counts)} tables, each with its hash")
    return 0


def restore_(url: str, options: argparse.Namespace) -> int:
    ensure_database(url)
    counts = restore(url, Path(options.file), None if options.unsigned else backup_key())
    say(f"restored and compared equal: {sum(counts.values())} rows in {len(counts)} tables")
    return 0


def bench(url: str, options: argparse.Namespace) -> int:
    """Speed, memory and what is caught. Needs the packages of builders: `./keen bench` has them."""
    try:
        return _bench(url, options)
    except ModuleNotFoundError as missing:
        if str(missing.name).startswith("keen_tracer"):
            raise
        raise CannotRecord(
            "no_tools",
            f"a bench needs the package {missing.name}, which only builders have: run ./keen bench",
        ) from missing


def _bench(url: str, options: argparse.Namespace) -> int:
    """Each bench in a module that is only loaded for it."""
    match options.what:
        case "detection":
            from .detection.report import run_detection

            return run_detection(options.seed, options.share, say)
        case "scale":
            from .bench_scale import run_scale

            return run_scale(url, options.samples or 1_000_000)
        case "load":
            from .bench_load import run_load

            return run_load(url, options.samples or 20_000)
        case "faults":
            from .faults import run_faults

            return run_faults(url, options.samples or 200, options.seed)
        case "web":
            from .bench_web import run_web

            return run_web(url, options.samples or 250_000)
    from .bench import run_bench

    return run_bench(url, options.samples or 100_000)


def _period(said: str) -> tuple[date, date]:
    first, _, last = said.partition("..")
    try:
        return date.fromisoformat(first), date.fromisoformat(last)
    except ValueError:
        raise CannotRecord(
            "period", f"{said!r} is not a period; write such as 2025-01-01..2025-12-31"
        ) from None


def study(url: str, options: argparse.Namespace) -> int:
    """Two periods of some engines compared, in words."""
    with single(url) as connection:
        found = learning.study_of(
            connection, options.engines, _period(options.before), _period(options.after)
        )
    for line in study_lines(found):
        say(line)
    return 0


def alarms(url: str, options: argparse.Namespace) -> int:
    """Every policy's alarms against what inspections found."""
    with single(url) as connection:
        found = learning.alarm_record(connection)
    say(f"{'policy':<42} confirmed  missed  false  not looked into")
    for t in found:
        say(f"{POLICY_WORDS[t.policy]:<42} {t.confirmed:9}  {t.missed:6}  {t.false:5}  {t.open:15}")
    return 0


Does = Callable[[str, argparse.Namespace], int]


def _measured(measured: argparse.ArgumentParser) -> None:
    """What can be measured, and on how much."""
    measured.add_argument("what", nargs="?", choices=BENCHES, default="usual")
    measured.add_argument("--samples", type=int)
    measured.add_argument(
        "--seed",
        type=int,
        default=101,
        help="of the reported fleets; seeds below 100 were tuned on",
    )
    measured.add_argument("--share", type=float, default=1.0, help="share of the grid's repeats")


def _commands() -> argparse.ArgumentParser:
    """What can be said to the program, and the function behind each command."""
    parser = argparse.ArgumentParser(prog="keen")
    commands = parser.add_subparsers(dest="command", required=True)
    me = os.environ.get("USER") or "command line"

    def command(name: str, does: Does, **words: str) -> argparse.ArgumentParser:
        """A command; `words` are its switches with what each does."""
        sub = commands.add_parser(name)
        sub.set_defaults(does=does)
        for switch, text in words.items():
            sub.add_argument(f"--{switch.replace('_', '-')}", action="store_true", help=text)
        return sub

    before = command("prepare", prepare_, demo="the resort's data", fresh="start the demo over")
    before.add_argument("--date")
    command("empty-box", empty_box)
    s = command("serve", serve, prepared="the database is at this program's schema")
    s.add_argument("--port", type=int)
    s.add_argument("--address-file")
    i = command(
        "import",
        import_,
        accept="take changes to depots, models and engines",
        preview="say what would happen and write nothing",
        as_record="a whole record, with what other people signed in it",
    )
    i.add_argument("files", nargs="+")
    i.add_argument("--by", default=me)
    w = command("watch", watch)
    w.add_argument("folder")
    w.add_argument("--by", default=me)
    w.add_argument("--every", type=float, default=LOOK_EVERY_S, help="seconds between two looks")
    command(
        "judge",
        judge,
        all="judge every engine again",
        publish_peers="publish peers, offsets and seasons anew, then judge",
        preview="only list the levels that publishing would change",
    ).add_argument("--by", default=me)
    st = command("study", study)
    st.add_argument("engines", nargs="+")
    st.add_argument("--before", required=True, metavar="FIRST..LAST")
    st.add_argument("--after", required=True, metavar="FIRST..LAST")
    command("alarms", alarms)
    someone = command("person", person)
    someone.add_argument("name")
    someone.add_argument("--role", choices=list(ROLES))
    command("export", export).add_argument("folder")
    command("backup", backup_).add_argument("file")
    command("keep-backups", keep_backups).add_argument("folder")
    back = command(
        "restore", restore_, unsigned="of another installation: its signature is not asked"
    )
    back.add_argument("file")
    _measured(command("bench", bench))
    return parser


def main(arguments: list[str] | None = None) -> int:
    o = _commands().parse_args(arguments)
    url = os.environ.get("DATABASE_URL")
    if not url:
        print("keen: DATABASE_URL is not set; start through ./keen", file=sys.stderr)
        return 1
    try:
        return int(o.does(url, o))
    except (StorageError, CoreError, NoLimits, CannotRecord, OSError) as error:
        print(f"keen: {error}; nothing was changed", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        print("keen: stopped; what was not finished was not written", file=sys.stderr)
        return 130


if __name__ == "__main__":
    sys.exit(main())
