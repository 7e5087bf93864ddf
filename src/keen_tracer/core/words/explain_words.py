"""Sentences of the explanations: what a raised reading comes from, what speaks for it and against
it."""

from ..findings import Finding, payloads
from ..laboratory import BY_SYMBOL, number_text
from .amounts import Units
from .figures import listed, small
from .spoken import says, says_amounts


def _n(x: float | None) -> str:
    return "none" if x is None else number_text(float(f"{x:.2g}"))


def _litres(x: float | None, units: Units) -> str:
    """An estimate of litres as a number in `units`, with the two digits it deserves."""
    return _n(None if x is None else units.number(x, "L"))


def _names(symbols: list[str]) -> str:
    """Elements with their verb: "iron is", "iron, chromium and aluminium are"."""
    names = [small(BY_SYMBOL[s].name) for s in symbols]
    return f"{names[0]} is" if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]} are"


def _elements(symbols: list[str]) -> str:
    return listed([small(BY_SYMBOL[s].name) for s in symbols])


_RATIO = {
    "dust": "as of road dust: look at the intake from filter to engine",
    "clay": "as of clay dust, or of dust with piston wear",
    "casting": "as of an aluminium-silicon casting rather than dust",
    "sealant": "far too little aluminium for dust: sealant, antifoam or silicated coolant",
    "siloxane": "far too little aluminium for dust: siloxane from the gas",
    "unclear": "which no one source explains",
}


@says(payloads.DustRatio, "dust_ratio")
def _dust_ratio(_: Finding, numbers: payloads.DustRatio) -> str:
    wears = (
        f" It has reached metal: {_names(numbers.wears)} up."
        if numbers.wears
        else " No metal comes along yet."
    )
    if numbers.ratio is None:
        return (
            f"Silicon is at least {_n(numbers.low)} times aluminium, {_RATIO[numbers.word]}.{wears}"
        )
    high = f" to {_n(numbers.high)}" if numbers.high is not None else " or more"
    return (
        f"Silicon is {_n(numbers.ratio)} times aluminium ({_n(numbers.low)}{high}), "
        f"{_RATIO[numbers.word]}.{wears}"
    )


def _coolant_markers(numbers: payloads.CoolantIn) -> str:
    """Which of coolant's markers are up, and whether the other was to be expected at all."""
    if numbers.both:
        return "Sodium and potassium are up together, as coolant brings them."
    other = {"Na": "K", "K": "Na"}.get(numbers.marker, "")
    if numbers.carries and numbers.marker in numbers.carries and other not in numbers.carries:
        up, absent = (small(BY_SYMBOL[m].name) for m in (numbers.marker, other))
        return (
            f"{up.capitalize()} is up; the coolant on record carries hardly any {absent}, "
            "so none of it is to be expected."
        )
    return "One of coolant's markers is up, the other is not."


@says_amounts(payloads.CoolantIn, "coolant_in")
def _coolant_in(_: Finding, numbers: payloads.CoolantIn, units: Units) -> str:
    amounts = " and ".join(
        f"{_litres(x, units)} {units.volume} by {small(BY_SYMBOL[m].name)}"
        for m, x in numbers.litres.items()
    )
    size = (
        ""
        if not amounts
        else f" At least {amounts} came in"
        + (
            "; the two agree."
            if numbers.agree
            else "; the two do not agree, so part of it may be something else."
            if len(numbers.litres) == 2
            else "."
        )
    )
    for_ = _coolant_markers(numbers)
    water = (
        "Water or glycol is there too."
        if numbers.water or numbers.glycol
        else "Water and glycol boil off or break down within days: their absence does not clear it."
    )
    metal = f" {_names(numbers.metal).capitalize()} up at the same time." if numbers.metal else ""
    return f"{for_} {water}{size}{metal}"


SOURCE_WORDS = {
    "coolant": ("the coolant on record", "its marker"),
    "dust": ("dust", "silicon"),
    "road_salt": ("road salt", "sodium"),
    "sea_water": ("sea water", "sodium"),
    "brazing_flux": ("brazing flux", "potassium"),
    "sealant": ("sealant, antifoam or siloxane", "silicon"),
}


@says_amounts(payloads.Fingerprint, "fingerprint")
def _fingerprint(_: Finding, numbers: payloads.Fingerprint, units: Units) -> str:
    """What came in by the ratios it came in, surest first; what cannot be excluded after it; what
    nothing here explains; what nobody measured that would tell more."""
    sure, open_ = [], []
    for name, amount, low, high in zip(
        numbers.sources, numbers.amounts, numbers.lows, numbers.highs, strict=False
    ):
        words, lead = SOURCE_WORDS.get(name, (name, ""))
        liquid = name == "coolant" and numbers.litres
        unit = units.volume if liquid else f"ppm of {lead}"
        found, least, most = (_litres(x, units) if liquid else _n(x) for x in (amount, low, high))
        if low:
            sure.append(f"{words} {found} {unit} ({least} to {most})")
        else:
            open_.append(f"{words} (up to {most} {unit})")
    said = []
    if sure:
        said.append(f"By its ratios: {', '.join(sure)}.")
    if numbers.left:
        beyond = " beyond that" if sure else ""
        said.append(f"No source known here explains the {_elements(numbers.left)}{beyond}.")
    if numbers.coolants and "coolant" not in numbers.sources[: len(sure)]:
        names = _elements(numbers.coolants)
        said.append(f"The coolant on record alone brings {names} in this ratio.")
    if not said:
        said.append("Its ratios prove no one source.")
    if open_:
        said.append(f"Not excluded: {', '.join(open_)}.")
        if numbers.unmeasured:
            names = _elements(numbers.unmeasured)
            said.append(f"The report has no {names}, which would tell more of them.")
    if not numbers.on_record:
        said.append("No coolant is on record of this engine: it cannot be told.")
    return " ".join(said)


@says(payloads.Thick, "thick")
def _thick(_: Finding, numbers: payloads.Thick) -> str:
    why = (
        f"{' and '.join(numbers.why)} explain{'s' if len(numbers.why) == 1 else ''} it"
        if numbers.why
        else "neither oxidation nor soot explains it: a thicker oil may have been added"
    )
    return f"The oil is {_n(numbers.rise)} % thicker than fresh; {why}."


@says(payloads.CopperAlone, "copper_alone")
def _copper_alone(_: Finding, numbers: payloads.CopperAlone) -> str:
    when = (
        " in a new engine"
        if numbers.young
        else " after a change of oil brand"
        if numbers.brand
        else ""
    )
    return (
        f"Copper alone{when}, with tin, lead and iron as usual: often a cooler that leaches, "
        "harmless and falling from "
        "charge to charge. A bush without tin, or a filter with copper in it, would speak "
        "against that."
    )


@says(payloads.Ratio, "brazing_flux")
def _brazing_flux(_: Finding, numbers: payloads.Ratio) -> str:
    return (
        f"Potassium is {_n(numbers.ratio)} times aluminium without sodium in a new engine: brazing "
        "flux from a cooler, falling with the hours, rather than coolant."
    )


@says(payloads.Rise, "sodium_alone")
def _sodium_alone(_: Finding, numbers: payloads.Rise) -> str:
    return (
        f"Sodium is {_n(numbers.rise)} ppm above fresh oil without potassium, water or glycol: "
        "road "
        "salt, a sea site or a detergent are as likely as coolant."
    )


@says(payloads.Fuel, "thin_little_fuel")
def _thin_little_fuel(_: Finding, numbers: payloads.Fuel) -> str:
    return (
        f"The oil is {_n(numbers.drop)} % thinner than fresh, as by up to {_n(numbers.most)} "
        f"% fuel, but {'less than' if numbers.below else 'only'} {_n(numbers.fuel)} % was "
        "measured: polymer "
        "shear, or another oil."
    )


@says(payloads.Fuel, "fuel_by_viscosity")
def _fuel_by_viscosity(_: Finding, numbers: payloads.Fuel) -> str:
    return (
        f"Fuel was not measured. Viscosity would allow up to {_n(numbers.most)} %, and "
        f"{_n(numbers.least)} % even after ordinary shear: it is fuel until it is measured."
    )


@says(payloads.Biodiesel, "biodiesel_is_fuel")
def _biodiesel_is_fuel(_: Finding, numbers: payloads.Biodiesel) -> str:
    return (
        f"Biodiesel {_n(numbers.fame)} % is fuel: {_n(numbers.together)} % of fuel in all. "
        "Tests of fuel by "
        "its vapour hardly see it, and it does not boil off."
    )


@says(payloads.Fuel, "fuel_hides_thickening")
def _fuel_hides_thickening(_: Finding, numbers: payloads.Fuel) -> str:
    return (
        f"Fuel {_n(numbers.fuel)} % was measured where viscosity allows {_n(numbers.most)} %: "
        "something thickens the oil at the same time, and fuel hides it."
    )


@says(payloads.Fuel, "fuel_again")
def _fuel_again(_: Finding, numbers: payloads.Fuel) -> str:
    return (
        f"Fuel {_n(numbers.fuel)} %, {_n(numbers.last)} % in the sample before, and viscosity "
        "agrees "
        f"(up to {_n(numbers.most)} %): it does not boil off. Look for the cause."
    )


@says(payloads.Fuel, "fuel_thins")
def _fuel_thins(_: Finding, numbers: payloads.Fuel) -> str:
    return (
        f"Fuel {_n(numbers.fuel)} % has thinned the oil past its limits (up to "
        f"{_n(numbers.most)} % by "
        "viscosity): the two agree."
    )


@says(payloads.Drift, "drift")
def _drift(_: Finding, numbers: payloads.Drift) -> str:
    return (
        f"The habit of {numbers.name.lower()} has risen from {_n(numbers.first)} to "
        f"{_n(numbers.now)} "
        "at these hours since the first samples of this life: slow, but the moving expectation "
        "has followed it."
    )


@says(payloads.Reserve, "corrosive_lead")
def _corrosive_lead(_: Finding, numbers: payloads.Reserve) -> str:
    return (
        f"Lead without tin while the acid number is up {_n(numbers.an)} and the base number is "
        f"{_n(numbers.bn)}: acids may be eating the overlay rather than anything rubbing."
    )


@says(payloads.Amount, "condensation")
def _condensation(_: Finding, numbers: payloads.Amount) -> str:
    return (
        f"Water {_n(numbers.water)} % with sodium and potassium as usual and no glycol: "
        "condensation "
        "from short or cold running rather than coolant."
    )


@says(payloads.Amount, "water_in")
def _water_in(_: Finding, numbers: payloads.Amount) -> str:
    return (
        f"Water {_n(numbers.water)} % with sodium and potassium as usual and no glycol, and "
        "more than "
        "short or cold running on record explains: rain, wash-down, a cooling system without "
        "additive or a pump that leaks."
    )


@says(payloads.Amount, "biodiesel_reads_as_oxidation")
def _biodiesel_reads_as_oxidation(_: Finding, numbers: payloads.Amount) -> str:
    return f"Biodiesel ({_n(numbers.fame)} %) reads as oxidation: part of that figure is fuel."
