"""Answers kept by the mark: never an old one after a write, one at a time, and none left of what
could not be made."""

import threading

import pytest
from fastapi import Request

from keen_tracer.api.held import MOST, Held
from keen_tracer.storage.db import Database


@pytest.fixture
def database(url):
    with Database(url) as d:
        yield d


def request(path: str) -> Request:
    return Request(
        {"type": "http", "path": path, "query_string": b"", "headers": [], "server": None}
    )


def write(database) -> None:
    with database.transaction() as c:
        c.execute("insert into depot (code) values (md5(random()::text))")


def depots(c) -> int:
    return int(c.execute("select count(*) from depot").fetchone()[0])


def test_what_was_written_is_in_the_next_answer(database) -> None:
    held, said = Held(), []
    for _ in range(5):
        said.append(held.answer(database, request("/a"), int, depots).body)
        assert held.answer(database, request("/a"), int, depots).body == said[-1]
        write(database)
    assert said == [str(n).encode() for n in range(5)]


def test_of_many_who_ask_at_once_one_makes_it(database) -> None:
    held, made = Held(), []

    def slow(c) -> int:
        made.append(1)
        c.execute("select pg_sleep(0.2)")
        return depots(c)

    asked = [
        threading.Thread(target=held.answer, args=(database, request("/a"), int, slow))
        for _ in range(6)
    ]
    for one in asked:
        one.start()
    for one in asked:
        one.join()
    assert len(made) == 1


def test_nothing_is_left_of_what_could_not_be_made_and_the_oldest_go(database) -> None:
    held = Held()

    def fails(c) -> int:
        raise LookupError("no such engine")

    for n in range(300):
        with pytest.raises(LookupError):
            held.answer(database, request(f"/{n}"), int, fails)
    for n in range(MOST + 20):
        held.answer(database, request(f"/{n}"), int, depots)
    assert len(held._making) <= MOST
    assert len(held._kept) == MOST
