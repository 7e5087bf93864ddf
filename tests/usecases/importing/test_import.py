"""Bringing open files in: what is written, what is refused and with which words, and that it is all
or nothing."""

from collections.abc import Callable
from pathlib import Path

import pytest

from keen_tracer.core.laboratory import idx
from keen_tracer.core.limits import CONC, default_limits
from keen_tracer.core.record import Engine
from keen_tracer.core.roles import at_the_machine
from keen_tracer.exchange.csvfile import SHOWN
from keen_tracer.storage.db import single
from keen_tracer.storage.records import limits_in_force, number, row, rows
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.importing.task import ImportReport
from tests.helpers import write_csv

ENGINES = "engine,class,meter_unit\nE-1,heavy_diesel,h\nE-2,petrol,km\n"
EVENTS = "engine,on,meter,kind,litres_in,oil\nE-1,2026-01-05,1000,oil_change,30,Test oil\n"
SAMPLES = (
    "sample,engine,drawn_on,meter,laboratory,Fe_ppm,Pb_ppm\nS-1,E-1,2026-02-10,1125,Lab,20,<1\n"
)


@pytest.fixture
def bring(url: str, tmp_path: Path) -> Callable[..., ImportReport]:
    """Import the given texts by file name; `accept` and `preview` as on the page."""

    def does(
        accept: bool = False, preview: bool = False, most_rows: int | None = None, **files: str
    ) -> ImportReport:
        paths = [write_csv(tmp_path, f"{name}.csv", text) for name, text in files.items()]
        return import_files(
            url, [(p.name, p) for p in paths], at_the_machine("tester"), accept, preview, most_rows
        )

    return does


def counts(url: str) -> dict[str, int]:
    with single(url) as c:
        return {
            t: c.execute(f"select count(*) from {t}").fetchone()[0]  # noqa: S608 - names from this line
            for t in (
                "engine",
                "log",
                "sample",
                "report",
                "reading",
                "source",
                "oil_batch",
                "decision",
                "judging_queue",
            )
        }


def the_problem(report: ImportReport):
    assert report.problem_count == 1, report.problems
    assert not report.written
    return report.problems[0]


def test_files_in_any_order_make_one_import(bring, url) -> None:
    report = bring(samples=SAMPLES, events=EVENTS, engines=ENGINES)
    assert report.written
    assert [f.added for f in report.files] == [2, 1, 1]
    have = counts(url)
    assert (have["engine"], have["log"], have["sample"], have["reading"]) == (2, 2, 1, 2)
    with single(url) as c:
        assert number(c, "stale_count") == 2


def test_the_same_files_twice_add_nothing_and_say_so(bring, url) -> None:
    bring(samples=SAMPLES, events=EVENTS, engines=ENGINES)
    before = counts(url)
    again = bring(samples=SAMPLES, events=EVENTS, engines=ENGINES)
    assert again.written
    assert again.added == 0
    assert sum(f.known for f in again.files) == 4
    after = counts(url)
    assert {k: v for k, v in after.items() if k != "source"} == {
        k: v for k, v in before.items() if k != "source"
    }


def test_a_preview_writes_nothing_and_says_the_same(bring, url) -> None:
    before = counts(url)
    preview = bring(preview=True, samples=SAMPLES, events=EVENTS, engines=ENGINES)
    assert counts(url) == before
    real = bring(samples=SAMPLES, events=EVENTS, engines=ENGINES)
    assert [(f.name, f.rows, f.added) for f in preview.files] == [
        (f.name, f.rows, f.added) for f in real.files
    ]
    assert not preview.written


def test_where_every_figure_came_from_is_kept(bring, url) -> None:
    bring(engines=ENGINES, samples=SAMPLES)
    with single(url) as c:
        found = rows(c, "sources")
        assert {f["name"] for f in found} == {"engines.csv", "samples.csv"}
        assert all(f["imported_by"] == "tester" and len(f["mark"]) == 12 for f in found)


@pytest.mark.parametrize(
    ("name", "text", "row_", "column", "what", "fix"),
    [
        (
            "samples",
            "sample,engine,drawn_on,meter\nS-1,E-9,2026-02-10,5\n",
            2,
            "engine",
            "'E-9' is not known",
            "engines.csv",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter\nS-1,E-1,31/02/2026,5\n",
            2,
            "drawn_on",
            "is not a date",
            "2026-02-28",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter\nS-1,E-1,2026-02-31,5\n",
            2,
            "drawn_on",
            "not a day that exists",
            "2026",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter\nS-1,E-1,2090-02-01,5\n",
            2,
            "drawn_on",
            "future",
            "day it happened",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter\nS-1,E-1,,120\n",
            2,
            "drawn_on",
            "empty",
            "must be given",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter\nS-1,E-1,2026-02-10,-4\n",
            2,
            "meter",
            "cannot be a meter figure",
            "from 0",
        ),
        (
            "samples",
            'sample,engine,drawn_on,meter\nS-1,E-1,2026-02-10,"1,250"\n',
            2,
            "meter",
            "thousands",
            "1250 or 1.250",
        ),
        (
            "samples",
            'sample,engine,drawn_on,meter,Fe_ppm\nS-1,E-1,2026-02-10,5,"1,250"\n',
            2,
            "Fe_ppm",
            "cannot be read",
            "1250 or 1.250",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter,Fe_ppm\nS-1,E-1,2026-02-10,5,0.2%\n",
            2,
            "Fe_ppm",
            "under ppm",
            "2000",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter,Fe_ppm\nS-1,E-1,2026-02-10,5,much\n",
            2,
            "Fe_ppm",
            "be read",
            "<limit",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter,Fe_ppm\nS-1,E-1,2026-02-10,5,-3\n",
            2,
            "Fe_ppm",
            "below 0",
            "check",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter,water_pct\nS-1,E-1,2026-02-10,5,20 °C\n",
            2,
            "water_pct",
            "not in",
            "write",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter,purpose\nS-1,E-1,2026-02-10,5,whim\n",
            2,
            "purpose",
            "not known",
            "routine",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter\nS-1,E-1,2026-02-10,5\nS-1,E-1,2026-02-11,6\n",
            3,
            "sample",
            "twice",
            "2",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter\nS/1,E-1,2026-02-10,5\n",
            2,
            "sample",
            "cannot be a name",
            "without /",
        ),
        (
            "samples",
            "sample,engine,meter\nS-1,E-1,120\n",
            1,
            "drawn_on",
            "column drawn_on is missing",
            "samples.csv needs",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter,meter\nS-1,E-1,2026-02-10,5,6\n",
            1,
            "meter",
            "stands twice",
            "keep one",
        ),
        (
            "samples",
            "sample,engine,drawn_on,meter\nS-1,E-1,2026-02-10\n",
            2,
            None,
            "3 cells",
            "comma",
        ),
        (
            "samples",
            "sample;engine;drawn_on;meter\nS-1;E-1;2026-02-10;5\n",
            None,
            None,
            "not separated by commas",
            "comma",
        ),
        ("samples", "", None, None, "empty", "first row"),
        ("events", "engine,on,kind\nE-1,2026-01-05,dance\n", 2, "kind", "not known", "oil_change"),
        (
            "events",
            "engine,on,kind\nE-1,2026-01-05,top_up\n",
            2,
            "litres_in",
            "needs its litres",
            "litres",
        ),
        (
            "events",
            "engine,on,kind,meter\nE-1,2026-01-05,meter_replaced,900\n",
            2,
            "meter_new",
            "both figures",
            "meter_new",
        ),
        (
            "events",
            "engine,on,kind\nE-1,2026-01-05,repair\nE-1,2026-01-05,repair\n",
            3,
            None,
            "twice",
            "seq",
        ),
        ("engines", "engine,class\nE-7,spaceship\n", 2, "class", "not known", "heavy_diesel"),
        (
            "engines",
            "engine,class,depot\nE-7,petrol,nowhere\n",
            2,
            "depot",
            "'nowhere' is not known",
            "depots.csv",
        ),
        (
            "engines",
            "engine,class,carry_over_frac\nE-7,petrol,1.5\n",
            2,
            "carry_over_frac",
            "share",
            "0.99",
        ),
        (
            "engines",
            "engine,class,allowed_grades\nE-7,petrol,15W-45\n",
            2,
            "allowed_grades",
            "grade",
            "10W-40",
        ),
        (
            "depots",
            "depot,time_zone\nvalley,Mars/Base\n",
            2,
            "time_zone",
            "not a time zone",
            "Europe",
        ),
        (
            "limits",
            "scope,scope_name,analyte,basis,watch,act,origin,version\nclass,petrol,Fe_ppm,conc,9,5,x,v\n",
            2,
            "act",
            "comes before Watch",
            "correct",
        ),
        (
            "limits",
            "scope,scope_name,analyte,basis,watch,act,origin,version\nclass,boats,Fe_ppm,conc,5,9,x,v\n",
            2,
            "scope_name",
            "'boats' is not known",
            "heavy_diesel",
        ),
        ("oils", "oil,grade\nX,15W-40\nX,15W-40\n", 3, "oil", "twice", "keep one"),
    ],
)
def test_bad_input_says_what_where_and_what_to_do(
    bring, url, name, text, row_, column, what, fix
) -> None:
    bring(engines=ENGINES)
    before = counts(url)
    p = the_problem(bring(**{name: text}))
    assert (p.file, p.row, p.column) == (f"{name}.csv", row_, column)
    assert what in p.what
    assert fix in p.fix
    assert counts(url) == before


def test_one_bad_row_keeps_every_file_of_the_call_out(bring, url) -> None:
    before = counts(url)
    report = bring(
        engines=ENGINES, events=EVENTS, samples=SAMPLES + "S-2,E-1,2026-02-30,9,Lab,2,3\n"
    )
    assert not report.written
    assert counts(url) == before


def test_the_first_thousand_problems_and_their_total(bring) -> None:
    lines = "".join(f"S-{n},E-9,2026-02-10,5\n" for n in range(SHOWN + 234))
    report = bring(samples="sample,engine,drawn_on,meter\n" + lines)
    assert len(report.problems) == SHOWN
    assert report.problem_count == SHOWN + 234


def test_a_dial_that_falls_is_refused_with_both_figures(bring, url) -> None:
    bring(engines=ENGINES, samples=SAMPLES)
    p = the_problem(bring(events="engine,on,meter,kind\nE-1,2026-03-01,900,meter_reading\n"))
    assert (p.file, p.row, p.column) == ("events.csv", 2, "meter")
    assert "900 h on 2026-03-01 is below 1125 h on 2026-02-10" in p.what
    assert "meter_replaced" in p.fix
    ok = bring(
        events="engine,on,meter,meter_new,kind\nE-1,2026-02-20,1140,0,meter_replaced\n"
        "E-1,2026-03-01,40,,meter_reading\n"
    )
    assert ok.written


def test_a_file_that_is_no_table(url, tmp_path: Path) -> None:
    picture = tmp_path / "samples.csv"
    picture.write_bytes(b"\x89PNG\r\n\x1a\n\x00\x00")
    p = the_problem(import_files(url, [("samples.csv", picture)], at_the_machine("t")))
    assert "not a CSV" in p.what


def test_another_encoding(url, tmp_path: Path) -> None:
    latin = tmp_path / "engines.csv"
    latin.write_bytes("engine,class,name\nE-1,petrol,L\xf8ype\n".encode("latin-1"))
    p = the_problem(import_files(url, [("engines.csv", latin)], at_the_machine("t")))
    assert "UTF-8" in p.what
    assert p.row is not None


def test_a_byte_order_mark_does_no_harm(url, tmp_path: Path) -> None:
    file = tmp_path / "engines.csv"
    file.write_bytes(b"\xef\xbb\xbf" + ENGINES.encode())
    assert import_files(url, [("engines.csv", file)], at_the_machine("t")).written


def test_a_missing_file_is_named(url, tmp_path: Path) -> None:
    assert (
        "no such file"
        in the_problem(
            import_files(url, [("gone.csv", tmp_path / "gone.csv")], at_the_machine("t"))
        ).what
    )


def test_unknown_columns_are_reported_never_silently_dropped(bring) -> None:
    report = bring(engines="engine,class,colour\nE-1,petrol,red\n")
    assert report.written
    assert report.files[0].ignored == ["colour"]


def test_too_many_rows_for_a_page(bring) -> None:
    assert "./keen import" in the_problem(bring(most_rows=1, engines=ENGINES)).fix


def test_a_known_engine_that_reads_otherwise_is_a_change_to_accept(bring, url) -> None:
    bring(engines="engine,class,name,oil_total_l\nE-1,petrol,Old name,3.2\n")
    changed = "engine,class,name,oil_total_l\nE-1,petrol,New name,3.4\n"
    shown = bring(engines=changed)
    assert [(c.what, c.old, c.new) for c in shown.changes] == [
        ("engine E-1, name", "Old name", "New name"),
        ("engine E-1, oil_total_l", "3.2", "3.4"),
    ]
    with single(url) as c:
        assert c.execute("select name, row_version from engine").fetchone() == ("Old name", 1)
    bring(accept=True, engines=changed)
    with single(url) as c:
        assert c.execute("select name, oil_total_l, row_version from engine").fetchone() == (
            "New name",
            3.4,
            2,
        )


def test_a_known_sample_with_other_facts_is_refused_not_overwritten(bring, url) -> None:
    bring(engines=ENGINES, samples=SAMPLES)
    p = the_problem(bring(samples=SAMPLES.replace("1125", "1130")))
    assert "on record with other facts" in p.what
    assert "1125" in p.what


LONG = "laboratory,report,revision,sample,analyte,reading,unit\n"


def test_readings_in_long_form_with_units_keep_what_was_reported(bring, url) -> None:
    bring(engines=ENGINES, samples="sample,engine,drawn_on,meter\nS-1,E-1,2026-02-10,1125\n")
    report = bring(
        readings=LONG + "Lab,R-1,1,S-1,Fe_ppm,0.002,%\nLab,R-1,1,S-1,water_pct,<500,ppm\n"
        "Lab,R-1,1,S-1,oxidation_A_cm,0.12,A/0.1 mm\n"
    )
    assert report.written
    with single(url) as c:
        found = c.execute(
            "select censor, value, reported, unit from reading order by analyte"
        ).fetchall()
    assert [(f[0], round(f[1], 9), f[2], f[3]) for f in found] == [
        (0, 20.0, "0.002", "%"),
        (1, 0.05, "<500", "ppm"),
        (0, 12.0, "0.12", "A/0.1 mm"),
    ]


def test_a_unit_that_does_not_fit_is_refused(bring) -> None:
    bring(engines=ENGINES, samples=SAMPLES)
    p = the_problem(bring(readings=LONG + "Lab,R-1,1,S-1,Fe_ppm,4,mm²/s\n"))
    assert p.column == "reading"
    assert "does not fit Iron" in p.what


def test_one_report_names_one_sample(bring) -> None:
    bring(engines=ENGINES, samples=SAMPLES + "S-2,E-1,2026-02-20,1150,Lab,3,4\n")
    p = the_problem(bring(readings=LONG + "Lab,R,1,S-1,Fe_ppm,4,\nLab,R,1,S-2,Fe_ppm,5,\n"))
    assert "several samples" in p.what


def test_other_content_under_a_known_report_is_an_amendment(bring, url) -> None:
    bring(engines=ENGINES, samples=SAMPLES)
    report = bring(samples=SAMPLES.replace(",20,<1", ",25,<1"))
    assert report.written
    assert [(a.what, a.new) for a in report.amendments] == [
        ("sample S-1, revision 2", "Fe 20 → 25")
    ]
    again = bring(samples=SAMPLES.replace(",20,<1", ",25,<1"))
    assert again.amendments == []
    with single(url) as c:
        assert len(rows(c, "pending_amendments")) == 1
        in_effect = row(c, "reports_before", laboratories=["Lab"], numbers=["S-1"])
        assert in_effect is not None
        figures = rows(c, "readings_of_reports", reports=[in_effect["id"]])
    assert figures[0]["value"] == 20


def test_an_interrupted_import_leaves_nothing(
    url, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from keen_tracer.usecases.importing import files

    before = counts(url)
    paths = [
        write_csv(tmp_path, "engines.csv", ENGINES),
        write_csv(tmp_path, "samples.csv", SAMPLES),
    ]

    def cut(*_: object) -> None:
        raise KeyboardInterrupt

    monkeypatch.setitem(files.HANDLERS, "samples", cut)
    with pytest.raises(KeyboardInterrupt):
        import_files(url, [(p.name, p) for p in paths], at_the_machine("t"))
    assert counts(url) == before


def test_new_limits_under_a_new_name_judge_everything_again(bring, url) -> None:
    bring(engines=ENGINES, samples=SAMPLES)
    header = "scope,scope_name,analyte,basis,watch,act,unit,origin,version\n"
    assert bring(limits=header + "class,petrol,Fe_ppm,conc,5,9,ppm,maker's letter,site 1\n").written
    with single(url) as c:
        assert number(c, "stale_count") == 2
    same_name = bring(limits=header + "class,petrol,Fe_ppm,conc,6,9,ppm,maker's letter,site 1\n")
    assert not same_name.written
    assert "new version name" in same_name.problems[0].fix
    again = bring(limits=header + "class,petrol,Fe_ppm,conc,5,9,ppm,maker's letter,site 1\n")
    assert again.written
    assert again.files[0].known == 1


def test_a_few_new_limits_leave_the_others_in_force(bring, url) -> None:
    """A maker's letter for one engine must not switch off the limits of the fleet."""
    header = "scope,scope_name,analyte,basis,watch,act,unit,origin,version\n"
    bring(limits=header + "engine,E-1,Fe_ppm,conc,30,50,ppm,maker's letter,site 1\n")
    with single(url) as c:
        in_force = limits_in_force(c)
    assert in_force is not None
    name, found = in_force[1].name, in_force[1]
    assert name == "site 1"
    assert found.for_engine(Engine("E-1", "petrol")).at[CONC, :, idx("Fe")].tolist() == [30, 50]
    assert found.for_engine(Engine("E-2", "petrol")).at[CONC, :, idx("Fe")].tolist() == [40, 80]
    assert len(found.rows) == len(default_limits().rows) + 1


def test_verdicts_are_not_read_back(bring) -> None:
    report = bring(verdicts="sample,proposed,rules_version\nS-1,0,fixed 1\n")
    assert report.written
    assert "computed again" in report.files[0].note


CASE = "99999999-9999-4999-8999-999999999901"
CASES = (
    "case,engine,name,since,opened_from,by,at\n"
    f"{CASE},E-1,white smoke,2026-02-10,symptom,tester,2026-02-10T08:00:00Z\n"
)


def case_rows(*words: str) -> str:
    """A file of case entries, a note in each of these words."""
    head = "entry,case,engine,kind,words,on,by,at"
    made = [
        f'{CASE[:-2]}{n:02},{CASE},E-1,note,"{said}",2026-02-10,tester,2026-02-10T08:{n}:00Z'
        for n, said in enumerate(words, 10)
    ]
    return "\n".join([head, *made]) + "\n"


def test_words_of_an_imported_case_that_say_a_fact_are_named(bring) -> None:
    """A page asks whether a fact belongs in the log; of a file it is said that the log lacks it."""
    said = case_rows("one cylinder is wet", "the filter looks clean", "no knock")
    report = bring(engines=ENGINES, cases=CASES, case_entries=said)
    assert report.written, report.problems
    note = next(f.note for f in report.files if f.table == "case_entries")
    assert note.startswith("Row 2 says: "), note
    assert "E-1" in note
    assert "Row 3" not in note
    assert "Row 4" not in note


def test_an_imported_case_says_nothing_of_what_the_log_has(bring) -> None:
    events = "engine,on,kind,part\nE-1,2026-02-10,symptom,knock\n"
    report = bring(
        engines=ENGINES, events=events, cases=CASES, case_entries=case_rows("it knocks under load")
    )
    assert report.written, report.problems
    assert next(f.note for f in report.files if f.table == "case_entries") == ""


def test_many_rows_that_say_facts_are_not_all_named(bring) -> None:
    said = case_rows(*["one cylinder is wet"] * 9)
    report = bring(engines=ENGINES, cases=CASES, case_entries=said)
    note = next(f.note for f in report.files if f.table == "case_entries")
    assert note.count("\n") == 5
    assert note.endswith("read the cases.")
