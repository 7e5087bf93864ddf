"""Contaminants by their fingerprints, against `scipy.optimize.lsq_linear`, sea water and flux by
stoichiometry."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import lsq_linear

from keen_tracer.core.oil import Fit, coolant_litres, fingerprints, sources_of
from tests.helpers import Story, usual

ELEMENTS = ("Na", "K", "Si", "Al", "Mg")
PRINTS = {**fingerprints(), "coolant": {"Na": 1.0, "K": 0.5}}


def test_sea_water_and_flux_are_what_chemistry_says() -> None:
    """35 g/kg sea water holds 10.78 g sodium, 1.28 magnesium, 0.40 potassium (reference
    composition, Millero and others 2008): 156 : 18.6 : 5.8. KAlF4 by atomic masses of IUPAC: 39.098
    and 26.982."""
    sea, flux = fingerprints()["sea_water"], fingerprints()["brazing_flux"]
    assert 156 * sea["Mg"] == pytest.approx(18.6, rel=0.02)
    assert 156 * sea["K"] == pytest.approx(5.8, rel=0.02)
    assert flux["K"] / flux["Al"] == pytest.approx(39.098 / 26.982, rel=0.01)


@settings(max_examples=60)
@given(
    amounts=st.tuples(*(st.floats(0, 80) for _ in PRINTS)),
    noise=st.lists(st.floats(-3, 3), min_size=5, max_size=5),
)
def test_amounts_are_those_of_a_bounded_least_squares(
    amounts: tuple[float, ...], noise: list[float]
) -> None:
    rises = {
        m: (sum(x * p.get(m, 0) for x, p in zip(amounts, PRINTS.values(), strict=True)) + e, 2.0)
        for m, e in zip(ELEMENTS, noise, strict=True)
    }
    found = sources_of(rises, PRINTS)
    a = np.array([[p.get(m, 0.0) for p in PRINTS.values()] for m in ELEMENTS]) / 2
    b = np.array([rises[m][0] for m in ELEMENTS]) / 2
    best = lsq_linear(a, b, bounds=(0, np.inf), tol=1e-12)
    mine = np.array([s.amount for s in found.sources])
    assert np.sum((a @ mine - b) ** 2) == pytest.approx(2 * best.cost, abs=1e-6)
    assert all(0 <= s.low <= s.amount + 1e-9 <= s.high + 2e-9 for s in found.sources)


def test_an_interval_holds_the_truth_about_as_often_as_it_says() -> None:
    rng, inside = np.random.default_rng(8), []
    for _ in range(300):
        rises = {
            m: (40 * {"Na": 1.0, "K": 0.5}.get(m, 0.0) + float(rng.normal(0, 2)), 2.0)
            for m in ELEMENTS
        }
        one = next(s for s in sources_of(rises, PRINTS).sources if s.name == "coolant")
        inside.append(one.low <= 40 <= one.high)
    assert 0.93 <= np.mean(inside) <= 1.0, "bounds at zero make it wider, never narrower"


def test_nothing_measured_is_made_of_nothing() -> None:
    assert sources_of({}, PRINTS) == Fit((), ())
    assert sources_of({"Na": (float("nan"), 1.0)}, PRINTS) == Fit((), ())


def test_what_no_source_explains_is_said_and_a_source_nobody_measured_is_not() -> None:
    """Potassium alone is no sea water (1 : 27 of its sodium) and no flux (0.69 of aluminium)."""
    rises = {"Na": (1.0, 2.0), "K": (40.0, 2.0), "Si": (0.0, 2.0), "Al": (0.0, 1.0)}
    alone = sources_of(rises, fingerprints())
    assert alone.left == ("K",)
    assert not any(s.low > 0 for s in alone.sources)
    with_al = sources_of({**rises, "Al": (40 / 1.45, 2.0)}, fingerprints())
    assert with_al.left == ()
    assert [s.name for s in with_al.sources if s.low > 0] == ["brazing_flux"]
    without_silicon = sources_of({"Na": (40.0, 2.0), "Al": (9.0, 1.0)}, fingerprints())
    assert not {"dust", "sealant"} & {s.name for s in without_silicon.sources}


def test_silicon_alone_is_a_source_of_its_own() -> None:
    """Test dust brings aluminium at a fourth to a seventh of its silicon (ISO 12103-1)."""
    sealant = sources_of({"Si": (60.0, 3.0), "Al": (0.0, 1.0)}, fingerprints())
    assert [s.name for s in sealant.sources if s.low > 0] == ["sealant"]
    dust = sources_of({"Si": (60.0, 3.0), "Al": (11.4, 1.0)}, fingerprints())
    assert [s.name for s in dust.sources if s.low > 0] == ["dust"]
    worn = sources_of({"Si": (10.0, 2.0), "Al": (40.0, 2.0)}, fingerprints())
    assert not any(s.low > 0 and s.name == "dust" for s in worn.sources), "a piston is no dust"


def said(coolant: bool, **last: float) -> str:
    from keen_tracer.core.judge import judge
    from keen_tracer.core.limits import default_limits
    from keen_tracer.core.record import Coolant, Fleet
    from keen_tracer.core.words import sentence

    s = Story(model="M", coolant="OAT" if coolant else "")
    for k in range(9):
        s.change(40 * k, 1000 + 250 * k).sample(
            40 * k + 39, 1250 + 250 * k, usual(**(last if k == 8 else {}))
        )
    f = s.fleet()
    f = Fleet(f.histories, f.value, f.censor, f.fresh, {"OAT": Coolant(2600.0, 1300.0)})
    found = judge(f, default_limits())[-1].findings
    return " ".join(sentence(x) for x in found if x.code == "fingerprint")


def test_coolant_on_record_is_told_from_salt_in_litres() -> None:
    text = said(True, Na=54, K=27)
    assert "the coolant on record" in text
    litres = coolant_litres(50, 34, 2600)
    assert f"{litres:.2g}"[:3] in text
    assert "By its ratios" in text
    assert "road salt" not in text.split("Not excluded")[0], text


def test_sodium_alone_is_not_the_coolant_on_record() -> None:
    text = said(True, Na=60)
    assert "road salt" in text
    assert "coolant on record" not in text.split("Not excluded")[0]
