"""Which fact a word for what is seen and heard is (`tables/seen_and_heard.csv`)."""

from functools import cache

from .. import tables


@cache
def told(where: str) -> dict[str, str]:
    """Word → fact of one place: appearance, smell, symptom, failure, overheating; and, beside a
    symptom or a test, which smoke, when a noise and where the air is heard. "*" is any word; ""
    says nothing.

    >>> told("symptom")["knock"], told("smoke")["blue"]
    ('knock', 'blue_smoke')
    """
    return {r["word"]: r["fact"] for r in tables.read("seen_and_heard") if r["where"] == where}


def fact_told(where: str, said: str) -> str:
    """The fact a word of one place is; "" where it says nothing.

    >>> fact_told("failure", "whatever broke"), fact_told("smell", "")
    ('failure', '')
    """
    known = told(where)
    return known.get(said, known.get("*", ""))
