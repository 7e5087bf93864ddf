"""Whose a foreign file's samples are: labels that repeat, names nobody knows, engines said once."""

import pytest

from tests.api.test_layouts import bring, look, sent, with_laboratory
from tests.server import Server


def codes(found: dict) -> list[str]:
    return [t["sample"] for t in found["told"]]


@pytest.mark.parametrize("head", ["Sample No", "Report No"])
def test_a_number_several_samples_share_names_none_of_them(head: str, changing: Server) -> None:
    """A sheet that counts 1, 2 for each engine, a report of a whole month."""
    with changing.client("Mira Ostrand") as c:
        text = (
            f"{head},Unit,Date,Iron\n1,G-03,2026-01-01,14\n1,G-08,2026-01-02,24\n"
            "2,G-03,2026-02-01,15\n"
        )
        found = look(c, sent(c, text.encode())).json()
        assert codes(found) == ["G-03 2026-01-01", "G-08 2026-01-02", "2"]


def test_a_name_nobody_knows_is_told_by_a_registered_bottle(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        waiting = next(b for b in c.get("/api/inbox").json()["out"] if b["engine"])
        bottle = waiting["sample"]
        text = (
            "Sample,Unit,Date,Iron\n"
            f"{bottle},the old one,2026-01-01,14\nX-77,the old one,2026-01-02,15\n"
        )
        token = sent(c, text.encode())
        found = look(c, token).json()
        assert [(e["said"], e["known"]) for e in found["engines"]] == [
            ("the old one", waiting["engine"])
        ]
        assert bring(c, token, with_laboratory(found)).json()["written"]
        sheets = [c.get(f"/api/samples/{code}").json() for code in (bottle, "X-77")]
        assert {s["engine"] for s in sheets} == {waiting["engine"]}


def test_a_name_that_two_bottles_contradict_is_refused(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        out = [b for b in c.get("/api/inbox").json()["out"] if b["engine"]]
        one = out[0]
        other = next(b for b in out if b["engine"] != one["engine"])
        text = "Sample,Unit,Date,Iron\n" + "".join(
            f"{b['sample']},the old one,2026-01-01,14\n" for b in (one, other)
        )
        token = sent(c, text.encode())
        refused = bring(c, token, with_laboratory(look(c, token).json())).json()
        assert refused["code"] == "cells_unread"
        assert "'the old one' is " in refused["message"]


def test_a_label_of_a_registered_bottle_on_two_days_is_refused(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        waiting = next(b for b in c.get("/api/inbox").json()["out"] if b["engine"])
        text = "Sample,Unit,Date,Iron\n" + "".join(
            f"{waiting['sample']},{waiting['engine']},2026-0{n}-01,14\n" for n in (1, 2)
        )
        token = sent(c, text.encode())
        refused = bring(c, token, with_laboratory(look(c, token).json())).json()
        assert "several engines or days" in refused["message"]


def test_whose_a_file_is_can_be_said_for_that_file_alone(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        token = sent(c, b"Sample Date,Hours,Iron,Copper\n2026-01-01,9000,14,3\n")
        found = look(c, token).json()
        assert found["lacking"] == ["engine", "laboratory"]
        said = {**with_laboratory(found), "engine": "T-ONE"}
        named = look(c, token, said).json()
        assert (named["lacking"], codes(named)) == ([], ["T-ONE 2026-01-01"])
        new = [{"said": "T-ONE", "engine_class": "heavy_diesel"}]
        assert bring(c, token, said, engines=new).json()["written"]
        # The next file with these headings is another engine's, and is asked about again.
        token = sent(c, b"Sample Date,Hours,Iron,Copper\n2026-01-09,100,14,3\n")
        again = look(c, token).json()
        assert again["known_from"] == "Northfall"
        assert again["lacking"] == ["engine"]


def test_a_meter_is_read_in_the_unit_of_its_row(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        text = (
            "Unit,Sample Date,Meter,Meter units,Iron\nT-MI,2026-01-01,1000,Miles,14\n"
            "T-KM,2026-01-01,1609.344,km,15\nT-NO,2026-01-01,1000,turns,16\n"
        )
        token = sent(c, text.encode())
        found = look(c, token).json()
        new = [
            {"said": e["said"], "engine_class": "heavy_diesel", "meter_unit": "km"}
            for e in found["engines"]
        ]
        refused = bring(c, token, with_laboratory(found), engines=new).json()
        assert "'turns' is no unit of a meter" in refused["message"]
        assert bring(c, token, with_laboratory(found), engines=new, leave_out=True).json()[
            "written"
        ]
        drawn = [c.get(f"/api/engines/T-{u}").json()["samples"][0] for u in ("MI", "KM")]
        assert [d["total"] for d in drawn] == pytest.approx([1609.344, 1609.344])


def test_parts_that_are_no_engines_stay_out_and_what_a_laboratory_marked_is_said(
    changing: Server,
) -> None:
    with changing.client("Mira Ostrand") as c:
        text = (
            "Unit,Component,Date,Iron\nG-03,Engine,2026-01-01,14 H\nG-03,Gearbox,2026-01-01,140 C\n"
        )
        found = look(c, sent(c, text.encode())).json()
        assert found["parts"] == ["Engine", "Gearbox"]
        assert found["layout"]["parts"] == ["Engine"]
        assert found["others"] == [{"what": "Gearbox", "times": 1}]
        assert {m["what"] for m in found["marks"]} == {"H", "C"}
        assert [t["figures"] for t in found["told"]] == ["Fe 14"]


def test_a_part_the_next_file_names_first_is_asked_about(changing: Server) -> None:
    """What was said is kept with the headings; what nobody said is not left out in silence."""
    with changing.client("Mira Ostrand") as c:
        text = "Unit,Component,Sample Date,Iron\n{}T-1,{},2026-01-0{},15\n"
        token = sent(c, text.format("T-1,Engine,2026-01-01,14\n", "Main unit", 2).encode())
        found = look(c, token).json()
        assert [q["about"] for q in found["questions"]] == ["parts"]
        said = {**with_laboratory(found), "parts": ["Engine"], "others": ["Main unit"]}
        new = [{"said": "T-1", "engine_class": "heavy_diesel"}]
        assert bring(c, token, said, engines=new).json()["written"]
        for n, (part, asked) in enumerate([("Main unit", []), ("Skid 4", ["parts"])], 3):
            token = sent(c, text.format("T-1,Engine,2026-02-01,14\n", part, n).encode())
            assert [q["about"] for q in look(c, token).json()["questions"]] == asked
