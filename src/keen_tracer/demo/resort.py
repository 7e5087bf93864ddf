"""Skarrow Fell: its depots, engines, oils, laboratories and people. All names, makes and figures
invented."""

from dataclasses import dataclass, field

# Name, then sodium, potassium, boron and silicon in mg/kg.
COOLANTS = [("Glacis long-life", 2600, 3900, 20, 15), ("Glacis classic", 4100, 500, 900, 240)]
DEPOTS = [
    ("valley", "Valley depot", 1, 8),
    ("mid", "Mid station", 2, 6),
    ("summit", "Summit shed", 3, 4),
]
ZONE = "Europe/Oslo"
# What a failure costs by the letter of an engine, with everything that stands still then.
FAILURE_COST = {"G": 38000, "P": 9400, "S": 12000, "L": 16000, "X": 24000, "U": 4200, "W": 21000}
# Of the engines of a model with a fault of a range; one is not on record.
SERIAL_NUMBERS = {"G-07": "4512", "G-08": "4075", "P-01": "4102", "P-03": "4216"}
# Known faults of a model's serial ranges.
KNOWN_FAULTS = {"Kelvane 6T": "liner seals, serial numbers 4100 to 4390, maker's bulletin 12"}
# What a laboratory prints as usual for a model, and the hours on the oil it holds for.
AVERAGES = (
    "Fellside Oil Laboratory",
    "Ostrick D9",
    250,
    {"Fe_ppm": 16, "Cu_ppm": 8, "Pb_ppm": 5, "Si_ppm": 8},
)
PEOPLE = [("Mira Ostrand", "analyst"), ("Jon Tveld", "technician"), ("Runa Skarsel", "releaser")]


@dataclass(frozen=True)
class Model:
    """A made-up engine model. Volumes in litres; `watch` scales how fast its metals wear."""

    code: str
    engine_class: str
    oil_total_l: float
    sump_l: float
    grades: str
    layout: str
    bearings: str
    materials: str
    drain: float
    unit: str = "h"
    features: str = ""
    stick_mm: float | None = None
    marks_l: float | None = None


MODELS = {
    m.code: m
    for m in (
        Model(
            "Ostrick D9",
            "heavy_diesel",
            34,
            30,
            "10W-40;15W-40",
            "inline 6",
            "leaded tri-metal",
            "main bearing=Pb-Sn overlay on Cu;liner=Fe;ring=Cr;piston=Al",
            250,
            stick_mm=690,
            marks_l=4.0,
        ),
        Model(
            "Kelvane 6T",
            "heavy_diesel",
            28,
            25,
            "10W-40;15W-40",
            "inline 6",
            "leaded tri-metal",
            "main bearing=Pb-Sn overlay on Cu;liner=Fe;ring=Cr;piston=Al",
            250,
            stick_mm=610,
            marks_l=3.0,
        ),
        Model(
            "Morrund 44",
            "light_diesel",
            14,
            12.5,
            "10W-40;5W-30",
            "inline 4",
            "aluminium-tin",
            "main bearing=Al-Sn;liner=Fe;ring=Cr;piston=Al",
            250,
            stick_mm=545,
        ),
        Model(
            "Hask GX4",
            "light_diesel",
            9,
            8,
            "5W-30;10W-40",
            "inline 4",
            "aluminium-tin",
            "main bearing=Al-Sn;liner=Fe;ring=Cr;piston=Al",
            250,
            features="particulate_filter",
            stick_mm=480,
        ),
        Model(
            "Vikka Twin",
            "petrol",
            3.2,
            2.8,
            "5W-30;10W-30",
            "vee 2",
            "aluminium-tin",
            "main bearing=Al-Sn;bore=Fe;ring=Cr;piston=Al",
            8000,
            "km",
        ),
        Model(
            "Pipit 7",
            "small_air_cooled",
            1.1,
            1.0,
            "10W-30;30",
            "single",
            "ball and plain",
            "rod=Al;bore=Fe;piston=Al",
            50,
        ),
    )
}


@dataclass(frozen=True)
class Oil:
    """A made-up oil with the true figures of its fresh form."""

    name: str
    grade: str
    kv40: float
    kv100: float
    bn: float
    an: float
    additives: dict[str, float]


OILS = {
    o.name: o
    for o in (
        Oil(
            "Ulfrin HD",
            "10W-40",
            96.0,
            14.3,
            10.2,
            1.9,
            {"Ca": 2600, "Mg": 310, "Zn": 1250, "P": 1080, "B": 95, "Mo": 52},
        ),
        Oil(
            "Marrowby LT",
            "5W-30",
            68.0,
            11.6,
            8.1,
            1.6,
            {"Ca": 1350, "Mg": 620, "Zn": 930, "P": 820, "B": 180, "Mo": 85},
        ),
        Oil(
            "Pellan Small",
            "10W-30",
            71.0,
            10.9,
            6.9,
            1.5,
            {"Ca": 2050, "Mg": 12, "Zn": 1020, "P": 930, "B": 4, "Mo": 2},
        ),
    )
}


@dataclass(frozen=True)
class Machine:
    """One engine of the resort. `hours` are per working day in each month, `start` the meter three
    years ago."""

    code: str
    name: str
    depot: str
    model: str
    oil: str
    season: str
    start: float
    use_l_per_100: float = 0.35
    fuel: str = "diesel"
    interval_days: int = 60
    service_day: int | None = None
    stories: tuple[str, ...] = field(default=())


# Working share of days and units a day, January to December.
SEASONS: dict[str, tuple[list[float], float]] = {
    "groom": ([0.8, 0.8, 0.75, 0.5, 0, 0, 0, 0, 0, 0.55, 0.8, 0.85], 7.0),
    "snow": ([0.6, 0.45, 0.15, 0, 0, 0, 0, 0, 0, 0.35, 0.75, 0.8], 8.0),
    "lift": ([0.4, 0.4, 0.4, 0.3, 0.2, 0.3, 0.35, 0.35, 0.2, 0.3, 0.4, 0.4], 2.6),
    "standby": ([0.25, 0.25, 0.2, 0.15, 0.12, 0.1, 0.1, 0.1, 0.12, 0.15, 0.2, 0.25], 1.6),
    "loader": ([0.75, 0.75, 0.7, 0.55, 0.5, 0.5, 0.5, 0.5, 0.5, 0.55, 0.7, 0.75], 4.0),
    "dig": ([0, 0, 0, 0.1, 0.6, 0.8, 0.8, 0.8, 0.75, 0.65, 0.4, 0], 6.0),
    "trail": ([0, 0, 0, 0.2, 0.6, 0.8, 0.85, 0.85, 0.6, 0.3, 0.1, 0], 85.0),
    "pump": ([0, 0, 0, 0, 0.4, 0.5, 0.6, 0.6, 0.4, 0.1, 0, 0], 3.0),
}

MACHINES = [
    Machine(
        "G-01",
        "Groomer",
        "valley",
        "Ostrick D9",
        "Ulfrin HD",
        "groom",
        3900,
        stories=("wrong_top_up",),
    ),
    Machine(
        "G-02",
        "Groomer",
        "mid",
        "Ostrick D9",
        "Ulfrin HD",
        "groom",
        4620,
        stories=("unrecorded_change",),
    ),
    Machine(
        "G-03",
        "Groomer",
        "valley",
        "Ostrick D9",
        "Ulfrin HD",
        "groom",
        2210,
        stories=("additive_trial",),
    ),
    Machine(
        "G-04",
        "Winch groomer",
        "mid",
        "Ostrick D9",
        "Ulfrin HD",
        "groom",
        6150,
        stories=("rebuilt_with_sealant",),
    ),
    Machine(
        "G-05", "Groomer", "summit", "Ostrick D9", "Ulfrin HD", "groom", 1480, stories=("swapped",)
    ),
    Machine("G-06", "Groomer", "summit", "Ostrick D9", "Ulfrin HD", "groom", 5230, 1.1),
    Machine(
        "G-07", "Groomer", "mid", "Kelvane 6T", "Ulfrin HD", "groom", 1120, stories=("rod_bearing",)
    ),
    Machine("G-08", "Groomer", "valley", "Kelvane 6T", "Ulfrin HD", "groom", 2680),
    Machine(
        "G-09",
        "Groomer, new",
        "valley",
        "Kelvane 6T",
        "Ulfrin HD",
        "groom",
        0,
        service_day=-50,
        stories=("run_in",),
    ),
    Machine("P-01", "Snow pump", "valley", "Kelvane 6T", "Ulfrin HD", "snow", 5400),
    Machine(
        "P-02",
        "Snow pump",
        "mid",
        "Kelvane 6T",
        "Ulfrin HD",
        "snow",
        4810,
        stories=("other_laboratory",),
    ),
    Machine(
        "P-03",
        "Snow pump",
        "summit",
        "Kelvane 6T",
        "Ulfrin HD",
        "snow",
        6020,
        stories=("cooler_leak",),
    ),
    Machine("P-04", "Snow pump", "mid", "Morrund 44", "Ulfrin HD", "snow", 2240),
    Machine(
        "P-05",
        "Snow pump",
        "summit",
        "Morrund 44",
        "Ulfrin HD",
        "snow",
        3110,
        stories=("foreign_chunk",),
    ),
    Machine(
        "S-01",
        "Standby set",
        "valley",
        "Morrund 44",
        "Ulfrin HD",
        "standby",
        640,
        interval_days=120,
    ),
    Machine(
        "S-02", "Standby set", "mid", "Morrund 44", "Ulfrin HD", "standby", 410, interval_days=120
    ),
    Machine(
        "S-04",
        "Standby set",
        "summit",
        "Morrund 44",
        "Ulfrin HD",
        "standby",
        350,
        interval_days=120,
        stories=("condensation",),
    ),
    Machine(
        "L-02", "Lift auxiliary", "mid", "Hask GX4", "Marrowby LT", "lift", 890, interval_days=90
    ),
    Machine(
        "L-07",
        "Lift auxiliary",
        "summit",
        "Hask GX4",
        "Marrowby LT",
        "lift",
        1240,
        interval_days=90,
        stories=("swapped",),
    ),
    Machine(
        "L-11",
        "Lift auxiliary",
        "summit",
        "Hask GX4",
        "Marrowby LT",
        "lift",
        760,
        interval_days=90,
        stories=("cold_running",),
    ),
    Machine(
        "W-01",
        "Wheel loader",
        "valley",
        "Kelvane 6T",
        "Ulfrin HD",
        "loader",
        7350,
        stories=("collapsed_filter",),
    ),
    Machine(
        "X-01",
        "Excavator",
        "valley",
        "Kelvane 6T",
        "Ulfrin HD",
        "dig",
        3620,
        stories=("cracked_hose",),
    ),
    Machine(
        "U-03", "Side-by-side", "mid", "Vikka Twin", "Marrowby LT", "trail", 9200, 0.01, "petrol"
    ),
    Machine(
        "U-05",
        "Side-by-side",
        "valley",
        "Vikka Twin",
        "Marrowby LT",
        "trail",
        15100,
        0.012,
        "petrol",
        stories=("late", "chain_guide"),
    ),
    Machine(
        "U-06", "Side-by-side", "summit", "Vikka Twin", "Marrowby LT", "trail", 4800, 0.01, "petrol"
    ),
    Machine(
        "A-01",
        "Trail pump",
        "mid",
        "Pipit 7",
        "Pellan Small",
        "pump",
        210,
        0.8,
        "petrol",
        interval_days=90,
    ),
]

# The groomers have a sampling valve; the rest is drawn through the dipstick, the small pump from
# the drain.
METHODS = {"G": "valve", "A": "drain_stream"}


def plans(machine: Machine) -> list[tuple[str, float | None]]:
    """The sampling plans of a machine: (kind, interval). Working engines halfway and before every
    drain."""
    if machine.season in ("standby", "lift"):
        return [("days", machine.interval_days), ("after_repair", 25)]
    return [
        ("half_drain", None),
        ("drain", None),
        ("days", machine.interval_days),
        ("after_repair", 25),
    ]
