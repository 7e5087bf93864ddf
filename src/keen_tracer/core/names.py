"""Names of people and engines that cannot be taken for one another.

A name is what somebody reads on a signature or a label. Two names that read alike but are not the
same are refused when the second one comes.
"""

import unicodedata
from collections.abc import Iterable

from .errors import CoreError

# Letters of other alphabets that look like Latin ones. Source: Unicode Technical Standard 39
# (confusables), the common Cyrillic and Greek ones, from memory.
_LOOKS_LIKE = dict(
    zip(
        "авеѕіјкмнорԛтухѵԁһԝɡісαβεηικνορτυχζμγ",
        "abesijkmhopqtyxvdhwgicabenikvoptuxzuy",
        strict=True,
    )
)
_UNSEEN = {"Cf", "Cc", "Co", "Cn", "Cs", "Zl", "Zp"}


class LooksAlike(CoreError):
    """A name that cannot be distinguished from another one."""

    code = "looks_alike"


def skeleton(name: str) -> str:
    """What a name looks like: the same for names that read alike.

    >>> skeleton("G-01") == skeleton("g\u200b-01") == skeleton("Ｇ-01")
    True
    >>> skeleton("РАСЕ") == skeleton("PACE")  # the first one is Cyrillic
    True
    """
    folded = unicodedata.normalize("NFKC", name).casefold()
    seen = (x for x in folded if unicodedata.category(x) not in _UNSEEN)
    return " ".join("".join(_LOOKS_LIKE.get(x, x) for x in seen).split())


def _alphabets(name: str) -> set[str]:
    letters = (unicodedata.name(x, "").split(" ")[0] for x in name if x.isalpha())
    return {a for a in letters if a in ("LATIN", "CYRILLIC", "GREEK", "ARMENIAN", "CHEROKEE")}


def check_name(name: str) -> str:
    """The name, if it is one that can be read. Raises LooksAlike.

    >>> check_name("Åse Brück")
    'Åse Brück'
    """
    if any(unicodedata.category(x) in _UNSEEN for x in name):
        raise LooksAlike(f"{name!r} holds letters that cannot be seen; type it anew")
    if not skeleton(name):
        raise LooksAlike("a name needs letters that can be seen")
    if not any(x.isalnum() for x in skeleton(name)):
        raise LooksAlike(f"{name!r} holds no letter and no digit; a name needs one")
    if len(_alphabets(name)) > 1:
        raise LooksAlike(f"{name!r} mixes alphabets whose letters look alike; use one")
    return name


def check_new_name(name: str, others: Iterable[str]) -> str:
    """The same for a new name beside those on record. Raises LooksAlike.

    >>> check_new_name("G-1", ["G-01"])
    'G-1'
    """
    check_name(name)
    mine = skeleton(name)
    twin = next((x for x in others if x != name and skeleton(x) == mine), None)
    if twin is not None:
        raise LooksAlike(f"{name!r} reads like {twin!r}, which is on record; give it another name")
    return name
