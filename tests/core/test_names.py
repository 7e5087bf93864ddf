"""Names that read alike are refused; the letters are those of Unicode Technical Standard 39."""

import pytest

from keen_tracer.core.names import LooksAlike, check_name, check_new_name

# name on record, name that reads like it. Sources: Unicode TR36 2.1 (mixed-script spoofing), 2.5
# (bidirectional and invisible characters), TS39 confusables.
ALIKE = [
    ("G-01", "g-01"),
    ("G-01", "G-01\u200b"),
    ("G-01", "G\u2060-01"),
    ("G-01", "\u202eG-01"),
    ("G-01", "\uff27-01"),
    ("Test Releaser", "Test\u00a0Releaser"),
    ("Test Releaser", "T\u0435st Releaser"),
    ("PACE", "\u0420\u0410\u0421\u0415"),
    ("Runa", "RUNA"),
]
APART = ["G-02", "G-1", "GG-01", "Åse", "Ase", "Лена", "Ελένη", "李", "G 01"]


@pytest.mark.parametrize(("there", "new"), ALIKE)
def test_what_reads_alike_is_refused(there: str, new: str) -> None:
    with pytest.raises(LooksAlike):
        check_new_name(new, [there])


@pytest.mark.parametrize("name", APART)
def test_what_reads_otherwise_is_taken(name: str) -> None:
    assert check_new_name(name, ["G-01", "Test Releaser"]) == name


@pytest.mark.parametrize("name", ["\u200b", "a\x00b", "G\u202e-01", "Gа-01", ""])
def test_names_nobody_can_read_are_refused(name: str) -> None:
    with pytest.raises(LooksAlike):
        check_name(name)
