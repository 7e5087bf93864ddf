"""Peers published as versions, policies chosen, debris and outcomes imported, looking back: through
the database."""

from datetime import date, timedelta
from pathlib import Path

import pytest

from keen_tracer.core.baseline import rows_of
from keen_tracer.core.limits import DEFAULT
from keen_tracer.core.roles import Actor, at_the_machine
from keen_tracer.storage import fleet as storage
from keen_tracer.storage.db import single
from keen_tracer.storage.peers import Choice, choose_policy, peers_in_force, with_means
from keen_tracer.storage.records import number, row, rows, run, set_setting
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.exporting import export_folder
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging import library, publishing
from keen_tracer.usecases.judging.judging import follow_rules, judge_stale
from keen_tracer.usecases.judging.learning import alarm_record, study_of
from keen_tracer.usecases.judging.standards import standards
from tests.day import DEMO_DAY
from tests.helpers import write_csv


def levels(url: str) -> dict[str, tuple[int | None, str]]:
    with single(url) as c:
        found = c.execute(
            "select distinct on (v.sample_id) s.code, v.level, v.input_hash from verdict v "
            "join sample s on s.id = v.sample_id order by v.sample_id, v.id desc"
        ).fetchall()
    return {code: (level, mark) for code, level, mark in found}


def test_the_demo_is_judged_by_a_published_version_of_peers(demo_url: str) -> None:
    with single(demo_url) as c:
        version, peers = peers_in_force(c)
        assert version is not None
        assert {"heavy_diesel", "petrol"} <= set(peers.classes)
        assert peers.means == {}, (
            "the means of single engines are fetched for those that are judged"
        )
        own = with_means(c, version, peers, ["G-01", "G-02"])
        assert set(own.means) == {"G-01", "G-02"}
        head = row(c, "verdict_of_sample", sample=number(c, "count_samples"))
    assert head is None or head["peers_version"] == peers.name


def test_standards_are_read_again_when_something_is_published_or_chosen(demo_copy: str) -> None:
    with single(demo_copy) as c:
        first = standards(c)
        assert standards(c) is first, "nothing new, nothing read"
        library_policy = first.policies.of(storage.load(c, [1]).fleet.histories[0].engine)
        assert library_policy == DEFAULT
        choose_policy(c, Choice("class", "heavy_diesel", "fixed_only"), "Tester")
        second = standards(c)
        assert second.policies.classes == {"heavy_diesel": "fixed_only"}
        publishing.publish(c, "Tester")
        third = standards(c)
    assert third.peers_id != second.peers_id
    assert third.peers.rises, "with the spread of rises"
    with single(demo_copy) as c:
        assert standards(c).peers_id == third.peers_id


def test_other_rules_of_judging_mean_that_every_sample_is_judged_again(demo_copy: str) -> None:
    with single(demo_copy) as c:
        set_setting(c, "rules", "those of an older program")
        assert follow_rules(c)
        assert number(c, "stale_count") == number(c, "count_engines")
        assert not follow_rules(c), "marked once"


def test_a_preview_lists_and_writes_nothing(demo_copy: str) -> None:
    before = levels(demo_copy)
    with single(demo_copy) as c:
        found = publishing.publish(c, "Tester", preview=True)
        assert len(rows(c, "peers_versions")) == 1
        assert number(c, "stale_count") == 0
    assert found is not None
    assert found[1]["samples"] > 400
    assert levels(demo_copy) == before


def test_publishing_again_without_new_samples_changes_no_level(demo_copy: str) -> None:
    with single(demo_copy) as c:
        publishing.publish(c, "Tester")  # takes in what came since the demo's first version
    judge_stale(demo_copy)
    before = levels(demo_copy)
    with single(demo_copy) as c:
        found = publishing.publish(c, "Tester")
    assert found is not None
    assert found[1]["raised"] == found[1]["lowered"] == 0
    judge_stale(demo_copy)
    assert levels(demo_copy) == before, "equal inputs, equal hashes, whatever the version is called"


def test_an_import_leaves_the_published_peers_alone(demo_copy: str, tmp_path: Path) -> None:
    with single(demo_copy) as c:
        before = rows_of(peers_in_force(c)[1])
    file = write_csv(
        tmp_path,
        "samples.csv",
        [
            {
                "sample": f"new-{n}",
                "engine": "G-01",
                "drawn_on": DEMO_DAY,
                "meter": 99000 + n,
                "Fe_ppm": 300,
                "laboratory": "Fellside Oil Laboratory",
            }
            for n in range(3)
        ],
    )
    assert import_files(demo_copy, [(file.name, file)], at_the_machine("Tester")).written
    judge_stale(demo_copy)
    with single(demo_copy) as c:
        assert rows_of(peers_in_force(c)[1]) == before


def test_one_new_sample_touches_one_engine(demo_copy: str, tmp_path: Path) -> None:
    with single(demo_copy) as c:
        run(c, "mark_stale", ids=[])
        before = dict(c.execute("select engine_id, refreshed_at from wall").fetchall())
    file = write_csv(
        tmp_path,
        "samples.csv",
        [
            {
                "sample": "one-more",
                "engine": "G-02",
                "drawn_on": DEMO_DAY - timedelta(days=1),
                "meter": 99999,
                "Fe_ppm": 30,
            }
        ],
    )
    assert import_files(demo_copy, [(file.name, file)], at_the_machine("Tester")).written
    done = judge_stale(demo_copy)
    assert done.engines == 1
    with single(demo_copy) as c:
        after = dict(c.execute("select engine_id, refreshed_at from wall").fetchall())
    assert sum(after[k] != before[k] for k in before) == 1


def test_a_signed_verdict_whose_level_rises_comes_back_and_stays_signed(demo_copy: str) -> None:
    with single(demo_copy) as c:
        signed = c.execute(
            "select s.code, d.level from decision_now d join sample s on s.id = d.sample_id "
            "where d.kind = 'sign_off' and d.level = 0 order by s.code desc limit 1"
        ).fetchone()
        assert signed is not None
        library.choose(
            c, Choice("class", "heavy_diesel", "worst_of_all", "tried"), Actor("Tester", "analyst")
        )
    judge_stale(demo_copy)
    with single(demo_copy) as c:
        still = c.execute(
            "select d.level from decision_now d join sample s on s.id = d.sample_id where "
            "s.code = %s",
            (signed[0],),
        ).fetchone()
    assert still == (0,)


def test_a_policy_chosen_for_an_engine_is_named_by_its_verdicts(demo_copy: str) -> None:
    with single(demo_copy) as c:
        assert (
            library.choose(
                c, Choice("engine", "G-07", "fixed_only", "tried"), Actor("Tester", "analyst")
            )
            == 1
        )
        with pytest.raises(CannotRecord, match="policy"):
            library.choose(
                c, Choice("engine", "G-07", "by the moon", "tried"), Actor("Tester", "analyst")
            )
        with pytest.raises(CannotRecord, match="engine"):
            library.choose(
                c, Choice("engine", "G-99", "fixed_only", "tried"), Actor("Tester", "analyst")
            )
        with pytest.raises(CannotRecord, match="say why"):
            library.choose(c, Choice("engine", "G-07", "own_only", " "), Actor("Tester", "analyst"))
        assert library.limits(c)["policies"]["engine"] == {"G-07": "fixed_only"}
    judge_stale(demo_copy)
    with single(demo_copy) as c:
        engine = number(c, "engine_by_code", code="G-07")
        loaded = storage.load(c, [engine])
        held = standards(c)
        assert held is not None
        assert set(held.assess(c, loaded.fleet).policies) == {"fixed_only"}
        policies = c.execute(
            "select distinct on (v.sample_id) v.policy from verdict v where v.sample_id = any(%s) "
            "order by v.sample_id, v.id desc",
            (loaded.sample_ids,),
        ).fetchall()
    assert {p for (p,) in policies} == {"fixed_only"}


def test_exported_peers_and_policies_give_the_same_verdicts_elsewhere(
    demo_copy: str, new_database, tmp_path: Path
) -> None:
    with single(demo_copy) as c:
        library.choose(
            c, Choice("class", "petrol", "two_of_three", "tried"), Actor("Tester", "analyst")
        )
    judge_stale(demo_copy)
    export_folder(demo_copy, tmp_path / "out")
    target = new_database()
    files = sorted((tmp_path / "out").glob("*.csv"))
    given = [(f.name, f) for f in files]
    assert import_files(target, given, at_the_machine("Tester"), as_record=True).written
    judge_stale(target)
    export_folder(target, tmp_path / "again")
    for name in ("verdicts", "peers", "policies", "debris", "outcomes"):
        assert (tmp_path / "again" / f"{name}.csv").read_bytes() == (
            tmp_path / "out" / f"{name}.csv"
        ).read_bytes(), name


def test_a_known_version_of_peers_with_other_rows_is_refused(
    demo_copy: str, tmp_path: Path
) -> None:
    export_folder(demo_copy, tmp_path)
    file = tmp_path / "peers.csv"
    lines = file.read_text(encoding="utf-8").splitlines()
    cells = lines[1].split(",")
    cells[6] = "9.9"
    file.write_text("\n".join([lines[0], ",".join(cells), *lines[2:]]) + "\n", encoding="utf-8")
    report = import_files(demo_copy, [("peers.csv", file)], at_the_machine("Tester"))
    assert not report.written
    assert "published with other rows" in report.problems[0].what


DEBRIS = {
    "look": "look-1",
    "engine": "G-02",
    "on": "2026-11-20",
    "place": "filter",
    "area_cm2": 400,
    "area_total_cm2": 1600,
}


def test_a_look_with_a_fragment_stops_the_engine_and_a_clean_one_clears_nothing(
    demo_copy: str, tmp_path: Path
) -> None:
    file = write_csv(
        tmp_path,
        "debris.csv",
        [{**DEBRIS, "type": "part_fragment", "size_class": "over 3", "count": 1}],
    )
    assert import_files(demo_copy, [(file.name, file)], at_the_machine("Tester")).written
    judge_stale(demo_copy)
    with single(demo_copy) as c:
        head = c.execute(
            "select w.level, w.picture->'state'->>'reasons' from wall w join engine e on e.id = "
            "w.engine_id "
            "where e.code = 'G-02'"
        ).fetchone()
    assert head is not None
    assert head[0] == 3
    assert "fragment" in head[1]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"kind": "duty", "mean": 2.5}, "slope on duty"),
        ({"kind": "rise", "factor": 40}, "factor on the spread"),
        ({"kind": "rise", "factor": 0}, "factor on the spread"),
        ({"kind": "duty", "mean": "nan"}, "mean"),
        ({"kind": "season", "other": "4"}, "season is 0 to 3"),
        ({"kind": "neighbours", "other": "2026-13"}, "month is written"),
        ({"kind": "duty", "analyte": "Ca_ppm"}, "has no peers"),
    ],
)
def test_peers_that_would_bend_every_expectation_are_refused(
    url: str, tmp_path: Path, change: dict, words: str
) -> None:
    row_of = {
        "version": "v",
        "kind": "rise",
        "name": "petrol",
        "other": "",
        "analyte": "Fe_ppm",
        "n": 0,
        "mean": "",
        "factor": "",
        "origin": "elsewhere",
    }
    report = import_files(
        url,
        [("peers.csv", write_csv(tmp_path, "peers.csv", [row_of | change]))],
        at_the_machine("Tester"),
    )
    assert not report.written
    assert words in " ".join(f"{p.column} {p.what}" for p in report.problems)
    with single(url) as c:
        assert row(c, "peers_latest") is None


def test_the_same_look_twice_adds_nothing_and_another_is_refused(
    demo_copy: str, tmp_path: Path
) -> None:
    rows_in = [
        {**DEBRIS, "type": "fuzz", "size_class": "under 0.1", "count": 9},
        {**DEBRIS, "type": "plastic", "size_class": "1-3", "count": 1},
    ]
    file = write_csv(tmp_path, "debris.csv", rows_in)
    assert import_files(demo_copy, [(file.name, file)], at_the_machine("Tester")).added == 2
    again = import_files(demo_copy, [(file.name, file)], at_the_machine("Tester"))
    assert (again.added, again.files[0].known) == (0, 2)
    other = write_csv(tmp_path, "debris.csv", [{**rows_in[0], "count": 10}])
    report = import_files(demo_copy, [(other.name, other)], at_the_machine("Tester"))
    assert not report.written
    assert "never overwrites" in report.problems[0].fix


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"type": "gold"}, "gold"),
        ({"size_class": "huge"}, "huge"),
        ({"count": 3, "type": ""}, "no type"),
        ({"engine": "G-99"}, "G-99"),
        ({"place": "boot"}, "boot"),
    ],
)
def test_a_look_that_makes_no_sense_is_refused_by_row(
    demo_copy: str, tmp_path: Path, change: dict, words: str
) -> None:
    file = write_csv(
        tmp_path, "debris.csv", [{**DEBRIS, "type": "fuzz", "size_class": "", "count": 1, **change}]
    )
    report = import_files(demo_copy, [(file.name, file)], at_the_machine("Tester"))
    assert not report.written
    assert any(words in p.what and p.row == 2 for p in report.problems)


def test_outcomes_make_the_record_of_alarms(demo_url: str) -> None:
    with single(demo_url) as c:
        found = {t.policy: t for t in alarm_record(c)}
    assert found["expectation_and_fixed"].confirmed >= found["fixed_only"].confirmed
    assert sum((t.confirmed, t.missed) != (0, 0) for t in found.values()) == len(found)


def test_a_trial_of_an_additive_that_is_mostly_noise(demo_url: str) -> None:
    with single(demo_url) as c:
        s = study_of(
            c,
            ["G-03"],
            (date(2024, 6, 1), date(2025, 10, 29)),
            (date(2025, 10, 30), date(2026, 11, 24)),
        )
        assert {x.word for x in s.effects} <= {"not distinguishable", "below detection", "too few"}
        with pytest.raises(CannotRecord, match="overlap"):
            study_of(
                c,
                ["G-03"],
                (date(2025, 1, 1), date(2025, 12, 1)),
                (date(2025, 11, 1), date(2026, 1, 1)),
            )
        with pytest.raises(CannotRecord, match="G-99"):
            study_of(
                c,
                ["G-99"],
                (date(2025, 1, 1), date(2025, 2, 1)),
                (date(2025, 3, 1), date(2025, 4, 1)),
            )


def test_the_first_version_waits_for_samples_enough(url: str) -> None:
    with single(url) as c:
        assert not publishing.is_due(c, weekly=True)
        assert publishing.publish(c, "Tester") is None


def test_a_week_later_another_version_is_due(demo_copy: str) -> None:
    with single(demo_copy) as c:
        assert not publishing.is_due(c, weekly=True)
        c.execute("reset role")
        c.execute("update peers_version set published_at = keen_now() - interval '8 days'")
        assert publishing.is_due(c, weekly=True)
        assert not publishing.is_due(c, weekly=False)


def test_the_sites_policy_on_drains_is_kept_with_who_changed_it(demo_copy: str) -> None:
    with single(demo_copy) as c:
        library.set_longest_drain(c, 1.5, Actor("Tester", "analyst"))
        assert library.limits(c)["longest_drain"] == 1.5
        with pytest.raises(CannotRecord, match="1 to 5"):
            library.set_longest_drain(c, 0.5, Actor("Tester", "analyst"))


WEIGHT = {
    "version": "ours 1",
    "mode": "bush_or_thrust",
    "evidence": "prior",
    "seen": 9,
    "absent": "",
    "origin": "our own",
}


def test_published_weights_move_the_lead_and_no_level(demo_copy: str, tmp_path: Path) -> None:
    before = levels(demo_copy)
    file = write_csv(tmp_path, "weights.csv", [WEIGHT])
    assert import_files(demo_copy, [(file.name, file)], at_the_machine("Tester")).written
    judge_stale(demo_copy)
    assert {k: level for k, (level, _) in levels(demo_copy).items()} == {
        k: level for k, (level, _) in before.items()
    }
    with single(demo_copy) as c:
        leads = c.execute(
            "select lead, findings from (select distinct on (sample_id) * from verdict order by "
            "sample_id, id desc) v where level > 0"
        ).fetchall()
    copper = [lead for lead, findings in leads if any(f["analyte"] == "Cu_ppm" for f in findings)]
    assert copper
    moved = [lead for lead in copper if lead == "bush_or_thrust"]
    # In the engine that stands open what was found by eye still decides.
    assert len(moved) >= len(copper) - 1, "a mode leads where a piece of its own was seen"
    assert moved
    assert (
        import_files(demo_copy, [(file.name, file)], at_the_machine("Tester")).files[0].known == 1
    )


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"evidence": "moonlight"}, "moonlight"),
        ({"mode": "gremlins"}, "gremlins"),
        ({"seen": 99}, "between"),
    ],
)
def test_a_weight_that_means_nothing_is_refused(
    demo_copy: str, tmp_path: Path, change: dict, words: str
) -> None:
    file = write_csv(tmp_path, "weights.csv", [{**WEIGHT, **change}])
    report = import_files(demo_copy, [(file.name, file)], at_the_machine("Tester"))
    assert not report.written
    assert any(words in p.what for p in report.problems)


def test_a_published_version_of_weights_never_changes(demo_copy: str, tmp_path: Path) -> None:
    file = write_csv(tmp_path, "weights.csv", [WEIGHT])
    assert import_files(demo_copy, [(file.name, file)], at_the_machine("Tester")).written
    other = write_csv(tmp_path, "weights.csv", [{**WEIGHT, "seen": 3}])
    assert not import_files(demo_copy, [(other.name, other)], at_the_machine("Tester")).written


def test_a_period_that_cannot_be_read_is_said_in_words() -> None:
    from keen_tracer.cli import _period

    assert _period("2025-01-01..2025-02-01") == (date(2025, 1, 1), date(2025, 2, 1))
    for said in ("last year", "2025-01-01", "2025-13-01..2025-02-01"):
        with pytest.raises(CannotRecord, match="is not a period"):
            _period(said)


def test_what_would_lower_an_engine_at_act_waits_for_a_person(demo_copy: str) -> None:
    """VERDICT 8.13: what a publication would lower is shown before."""
    with single(demo_copy) as c:
        publishing.publish(c, "Tester")
    judge_stale(demo_copy)
    with single(demo_copy) as c:
        # A steady engine whose newest sample stands at Act, as another version may have left it.
        c.execute(
            "insert into verdict (sample_id, limits_version_id, peers_version_id, rules, policy, "
            "input_hash, level, channels, findings, actions, may_run) select v.sample_id, "
            "v.limits_version_id, v.peers_version_id, v.rules, v.policy, v.input_hash, 2, "
            "v.channels, v.findings, v.actions, v.may_run from verdict v join sample s on "
            "s.id = v.sample_id join draw d on d.sample_id = s.id join log_now l on l.id = "
            "d.log_id join engine e on e.id = l.engine_id where e.code = 'G-02' order by "
            "l.on_date desc, v.id desc limit 1"
        )
        before = len(rows(c, "peers_versions"))
        found = publishing.publish(c, publishing.PROGRAM, seen=False)
        assert found is not None
        assert found[1]["eased"] == 1
        assert found[1]["changes"][0]["was"] == 2
        assert len(rows(c, "peers_versions")) == before, "nothing was published"
        waits = library.limits(c)["peers_wait"]
        assert waits is not None
        assert waits["eased"] == 1
        assert not publishing.is_due(c, weekly=True), "it is not worked out anew at every turn"
        assert publishing.publish(c, "Tester") is not None
        assert len(rows(c, "peers_versions")) == before + 1, "a person has seen it"
        assert library.limits(c)["peers_wait"] is None
