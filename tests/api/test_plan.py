"""The plan over the wire: moved within its range, two people, a proposal taken over, a calendar by
a secret address."""

import csv
import io
import re
from datetime import date, timedelta
from uuid import uuid4

import icalendar

from keen_tracer.core.terms import HALTED
from tests.api.test_taking_out import pages
from tests.server import Server


def tasks(c, **params) -> list[tuple[dict, dict]]:
    found = c.get("/api/plan", params={"weeks": 12, "limit": 500, **params}).json()
    return [(line, t) for line in found["lines"] for t in line["tasks"]]


def move(c, line: dict, t: dict, day, reason: str = "", **more):
    body = {
        "id": str(uuid4()),
        "engine": line["code"],
        "task": t["key"],
        "day": day,
        "reason": reason,
        "follows": t["move"],
        **more,
    }
    return c.post("/api/plan/moves", json={"moves": [body]})


def letters(text: str) -> str:
    """A text without what a break of a line in print changes: gaps and hyphens."""
    return re.sub(r"[\W_]+", "", text.lower())


def one(c, code: str, key: str) -> dict:
    return next(t for line, t in tasks(c) if line["code"] == code and t["key"] == key)


def done(c, line: dict, t: dict, key: str = "", **given):
    body = {"id": key or str(uuid4()), "engine": line["code"], "task": t["key"], **given}
    return c.post("/api/plan/done", json=body)


def days(iso: str, n: int) -> str:
    return (date.fromisoformat(iso) + timedelta(days=n)).isoformat()


def test_a_full_week_of_the_demo_with_everything_kinds_of_work(server: Server) -> None:
    with server.client("Jon Tveld") as c:
        found = tasks(c)
        assert {"sample", "drain", "action", "check", "decide", "bottle", "work"} <= {
            t["kind"] for _, t in found
        }
        plan = c.get("/api/plan", params={"weeks": 4}).json()
        assert len(plan["days"]) == 28
        assert any(d["used"] for d in plan["days"])
        assert plan["late"] == sum(t["late"] > 0 for _, t in tasks(c, weeks=4))
        # Who is in danger stands first.
        assert plan["lines"][0]["code"] == "G-07"
        assert all(t["day"] >= plan["today"] for _, t in found)
        held = [t for line, t in found if line["code"] == "G-07"]
        assert all(t["at_rest"] for t in held)


def test_a_task_is_moved_within_its_range_and_past_it_with_a_reason(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        line, t = next(
            (x, t)
            for x, t in tasks(c)
            if t["kind"] == "drain"
            and t["day"] > days(x["tasks"][0]["earliest"], 2)
            and t["latest"] > c.get("/api/plan").json()["today"]
            and t["earliest"] < t["day"]
        )
        sooner = days(t["day"], -1)
        assert move(c, line, t, sooner).status_code == 200
        moved = one(c, line["code"], t["key"])
        assert (moved["day"], moved["moved_by"]) == (sooner, "Jon Tveld")
        past = days(t["latest"], 3)
        refused = move(c, line, moved, past)
        assert refused.status_code == 422
        assert "say why" in refused.json()["message"]
        assert move(c, line, moved, past, "the filter comes on Tuesday").status_code == 200
        stands = one(c, line["code"], t["key"])
        assert (stands["day"], stands["reason"]) == (past, "the filter comes on Tuesday")
        assert move(c, line, stands, None).status_code == 200
        assert one(c, line["code"], t["key"])["day"] == t["day"]


def test_two_people_moving_the_same_task_do_not_overwrite_each_other(changing: Server) -> None:
    with changing.client("Jon Tveld") as c, changing.client("Mira Ostrand") as other:
        line, t = next((x, t) for x, t in tasks(c) if t["kind"] == "work")
        seen = dict(t)
        assert move(c, line, t, days(t["day"], 1)).status_code == 200
        late = move(other, line, seen, days(t["day"], 2))
        assert late.status_code == 409
        assert one(c, line["code"], t["key"])["day"] == days(t["day"], 1)
        # Sent again after a broken connection it is moved once.
        again = one(c, line["code"], t["key"])
        key = str(uuid4())
        for _ in range(2):
            assert move(c, line, again, days(t["day"], 3), id=key).status_code == 200


def test_a_hold_is_never_moved(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        line, t = next((x, t) for x, t in tasks(c) if t["kind"] == "decide")
        refused = move(c, line, t, days(t["day"], 3), "no time")
        assert refused.status_code == 422
        assert "stands until" in refused.json()["message"]


def test_a_proposal_is_taken_over_whole_and_breaks_nothing(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        before = {(x["code"], t["key"]): t for x, t in tasks(c)}
        today = c.get("/api/plan").json()["today"]
        found = c.get("/api/plan/proposal", params={"weeks": 4}).json()
        assert found["moves"]
        assert 0 <= found["gap"] <= 0.05
        for m in found["moves"]:
            t = before[m["engine"], m["key"]]
            assert t["movable"]
            assert m["to"] <= t["latest"] or t["latest"] < today
        body = [
            {
                "id": str(uuid4()),
                "engine": m["engine"],
                "task": m["key"],
                "day": m["to"],
                "reason": "proposed by the program",
                "follows": m["move"],
            }
            for m in found["moves"]
        ]
        assert c.post("/api/plan/moves", json={"moves": body}).status_code == 200
        after = {(x["code"], t["key"]): t for x, t in tasks(c)}
        assert all(after[m["engine"], m["key"]]["day"] == m["to"] for m in found["moves"])
        # What somebody placed stays: another proposal moves nothing of it.
        again = c.get("/api/plan/proposal", params={"weeks": 4}).json()
        placed = {(m["engine"], m["key"]) for m in found["moves"]}
        assert not placed & {(m["engine"], m["key"]) for m in again["moves"]}


def test_one_bad_move_of_many_moves_none(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        line, t = next((x, t) for x, t in tasks(c) if t["kind"] == "work")
        good = {
            "id": str(uuid4()),
            "engine": line["code"],
            "task": t["key"],
            "day": days(t["day"], 1),
            "reason": "",
            "follows": t["move"],
        }
        bad = {**good, "id": str(uuid4()), "task": "sample:nobody"}
        assert c.post("/api/plan/moves", json={"moves": [good, bad]}).status_code == 404
        assert one(c, line["code"], t["key"])["day"] == t["day"]


def test_work_is_done_in_one_step_and_leaves_the_plan(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        line, t = next((x, t) for x, t in tasks(c) if t["kind"] == "work" and x["code"] == "P-03")
        key = str(uuid4())
        for _ in range(2):
            assert done(c, line, t, key).status_code == 200
        assert t["key"] not in {x["key"] for _, x in tasks(c)}
        items = c.get(f"/api/cases/{t['case']}").json()["work"]["items"]
        assert [w["estimate"] for w in items if w["state"] == "done"] == [180.0]
        assert done(c, line, t).status_code == 404  # another said so already
        assert line["code"] == "P-03"


def first(c, quick: str) -> tuple[dict, dict]:
    return next((x, t) for x, t in tasks(c) if t["quick"] == quick)


def newest_row(c, code: str) -> dict:
    return c.get(f"/api/engines/{code}/logbook").json()["rows"][0]


def test_done_becomes_the_row_it_was(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        line, t = first(c, "oil")
        was = c.get(f"/api/stops/{line['code']}").json()
        key = str(uuid4())
        for _ in range(2):  # sent twice it is written once
            assert done(c, line, t, key).status_code == 200
        row = newest_row(c, line["code"])
        assert (row["id"], row["kind"], row["on_date"]) == (key, "oil_change", was["on"])
        assert row["litres_in"] is None  # nobody said how many
        assert c.get(f"/api/stops/{line['code']}").json()["oil"] == was["oil"]
        assert t["key"] not in {x["key"] for y, x in tasks(c) if y["code"] == line["code"]}

        line, t = first(c, "result")
        assert done(c, line, t, said="no such result").status_code == 422
        terms = c.get("/api/terms").json()["field_checks"]
        result = next(x for x in terms if x["code"] == t["code"])["results"][0]["code"]
        key = str(uuid4())
        assert done(c, line, t, key, said=result).status_code == 200
        row = next(
            r
            for r in c.get(f"/api/engines/{line['code']}/logbook").json()["rows"]
            if r["id"] == key
        )
        assert (row["kind"], row["part"]) == ("field_check", t["code"])
        assert row["words"]

        line, t = next((x, t) for x, t in tasks(c) if t["kind"] == "sample")
        assert done(c, line, t).json()["code"] == "meter_required"
        stop = c.get(f"/api/stops/{line['code']}").json()
        meter = (stop["dial"] or 0) + 1
        label = str(stop["next_label"])
        assert done(c, line, t, dial=meter, sample=label).status_code == 200
        assert newest_row(c, line["code"])["sample"] == label
        assert done(c, line, t, dial=meter, sample=label).status_code == 404


def test_what_has_to_be_told_is_not_said_in_two_taps(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        line, t = next((x, t) for x, t in tasks(c) if t["kind"] == "decide")
        assert done(c, line, t).json()["code"] == "has_a_form"


def test_hours_of_a_depot_change_what_fits(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        for s in c.get("/api/plan", params={"depot": "summit"}).json()["seasons"]:
            assert c.post("/api/plan/hours", json={**s, "hours": []}).status_code == 200
        body = {"depot": "summit", "starts": "01-01", "hours": [12.0] * 7}
        assert c.post("/api/plan/hours", json=body).status_code == 200
        plan = c.get("/api/plan", params={"depot": "summit"}).json()
        assert {d["hours"] for d in plan["days"]} == {12.0}
        assert plan["seasons"] == [body]
        # Work that is there and hours that are not: the day is shown as too full.
        scarce = {**body, "hours": [0.2] * 7}
        assert c.post("/api/plan/hours", json=scarce).status_code == 200
        full = c.get("/api/plan", params={"depot": "summit"}).json()
        assert any(d["used"] > d["hours"] for d in full["days"])
        # What does not fit into a proposal is named, with what leaving it out risks.
        week = c.get("/api/plan/proposal", params={"weeks": 1, "depot": "summit"}).json()
        assert week["out"]
        assert all(m["risks"] for m in week["out"])
        assert c.post("/api/plan/hours", json={**body, "hours": []}).status_code == 200
        assert c.get("/api/plan", params={"depot": "summit"}).json()["seasons"] == []
        for wrong in ({"starts": "13-01"}, {"hours": [-1.0] * 7}, {"hours": [8.0] * 8}):
            assert c.post("/api/plan/hours", json={**body, **wrong}).status_code == 422
        assert c.post("/api/plan/hours", json={**body, "depot": "moon"}).status_code == 404


def test_a_calendar_leaves_by_a_secret_address_that_can_be_revoked(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        key = str(uuid4())
        path = c.post("/api/calendars", json={"id": key, "depot": "summit"}).json()["path"]
        found = c.get(path)
        assert found.headers["content-type"].startswith("text/calendar")
        events = icalendar.Calendar.from_ical(found.content).walk("VEVENT")
        listed = tasks(c, depot="summit")
        assert len(events) >= len(listed)
        line, t = next((x, t) for x, t in listed if t["kind"] == "work")
        title = f"{line['code']}: {t['what']}"
        before = next(e for e in events if str(e["summary"]) == title)
        move(c, line, t, days(t["day"], 1))
        after = icalendar.Calendar.from_ical(c.get(path).content).walk("VEVENT")
        moved = next(e for e in after if str(e["summary"]) == title)
        assert moved["uid"] == before["uid"]
        # It leads to the engine's page at the address the calendar was asked from, and is newer.
        assert str(moved["url"]) == f"{str(c.base_url).rstrip('/')}/engine/{line['code']}"
        assert int(moved["sequence"]) > int(before["sequence"])
        assert moved.decoded("dtstart") == before.decoded("dtstart") + timedelta(days=1)
        assert done(c, line, t).status_code == 200
        left = icalendar.Calendar.from_ical(c.get(path).content).walk("VEVENT")
        assert len(left) == len(events) - 1
        # Nothing kept tells the address: only its hash.
        assert path.split("/")[-1].split(".")[0] not in c.get("/api/calendars").text
        c.post(f"/api/calendars/{key}/revoke")
        assert c.get(path).status_code == 404
        assert c.get("/api/calendars/guess.ics").status_code == 404
        mine = c.post("/api/calendars", json={"id": str(uuid4()), "person": "Jon Tveld"})
        own = icalendar.Calendar.from_ical(c.get(mine.json()["path"]).content).walk("VEVENT")
        assert 0 < len(own) < len(events)


def test_the_plan_as_a_table(server: Server) -> None:
    with server.client("Jon Tveld") as c:
        text = c.get("/api/plan/week.csv").text
        found = list(csv.DictReader(io.StringIO(text.removeprefix("\ufeff"))))
        # The table goes on where the page's twelve weeks end.
        assert len(found) >= len(tasks(c, weeks=12)) > 20
        assert [r["day"] for r in found] == sorted(r["day"] for r in found)


def test_chance_times_cost_orders_on_demand_and_shows_its_sum(server: Server) -> None:
    with server.client("Jon Tveld") as c:
        lines = c.get("/api/plan", params={"by_risk": True, "limit": 500}).json()["lines"]
        known = [x["risk"] for x in lines if x["risk"] is not None]
        assert known == sorted(known, reverse=True)
        first = lines[0]
        chance = (0.002, 0.02, 0.2, 0.6)[first["level"]]
        assert first["risk"] == chance * first["failure_cost"]


def test_plans_come_with_how_often_and_what_to_ask_for(server: Server) -> None:
    with server.client("Jon Tveld") as c:
        found = c.get("/api/engines/G-08/plans").json()
        i = found["interval"]
        assert i["most"] * 3 == i["takes"] == i["drains"] * i["drain"]
        assert all(t["why"] for t in found["slate"])


def test_done_is_said_where_the_task_is_answered(server: Server) -> None:
    with server.client("Jon Tveld") as c:
        forms = {(t["kind"], t["form"]) for _, t in tasks(c)}
        assert {("sample", "bottle"), ("drain", "oil_change"), ("decide", "run")} <= forms
        assert {f for k, f in forms if k == "check"} <= {"check", "look", "bottle", ""}


def test_what_waits_for_work_stands_behind_it(changing: Server) -> None:
    """Shells are chosen when the crank is ground: on the list, by hand and in a proposal."""
    with changing.client("Jon Tveld") as c:
        plan = c.get("/api/plan", params={"weeks": 4}).json()
        pairs = [
            (line["code"], t, first)
            for line in plan["lines"]
            for t in line["tasks"]
            for first in line["tasks"]
            if first["key"] in t["after"]
        ]
        assert any("shells" in t["what"] and "crank" in first["what"] for _, t, first in pairs)
        assert all(t["day"] >= first["day"] for _, t, first in pairs)
        code, t, first = next(x for x in pairs if x[2]["day"] > plan["today"])
        refused = move(c, {"code": code}, t, plan["today"], "sooner")
        assert refused.json()["code"] == "order_of_work"
        assert "comes before it" in refused.json()["message"]
        # What comes first is moved, and takes with it what waits for it.
        later = days(first["day"], 9)
        assert move(c, {"code": code}, first, later, "the grinder is away").status_code == 200
        assert one(c, code, t["key"])["day"] >= later
        found = c.get("/api/plan/proposal", params={"weeks": 4}).json()
        to = {(m["engine"], m["key"]): m["to"] for m in found["moves"]}
        for engine, late, early in pairs:
            a, b = to.get((engine, early["key"])), to.get((engine, late["key"]))
            assert a is None or b is None or a <= b


def test_the_printed_plan_is_a_list_to_work_by(server: Server) -> None:
    with server.client("Jon Tveld") as c:
        answer = c.get("/api/plan.pdf", params={"weeks": 2})
        assert answer.headers["content-type"] == "application/pdf"
        said = " ".join(pages(answer.content))
        asked = tasks(c, weeks=2)
        for line, t in asked:
            assert f"{line['code']} " in said
            assert letters(t["what"]) in letters(said)
            assert letters(t["tools"]) in letters(said)
        # A line for a name and one for a result beside each, and what an engine under Stop is told.
        assert said.count("Result") == len(asked)
        halted = {x["code"] for x, _ in asked if x["may_run"] in HALTED}
        assert halted
        assert said.count("Do not start") == sum(x["code"] in halted for x, _ in asked)
        late = [t for _, t in asked if t["late"]]
        assert late
        assert said.index("Late") < said.index("Result")
        assert c.get("/api/plan.pdf", params={"weeks": 99}).status_code == 422
