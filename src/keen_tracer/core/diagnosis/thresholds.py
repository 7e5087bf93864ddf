"""Where the diagnosis draws its lines: every threshold with its unit and origin."""

FUEL_WATCH, FUEL_GOOD = 2.0, 1.5  # % mass; common practice: under 2 % is good
ACID_RISE = 1.5  # mg KOH/g above fresh; the-trade 3.7
FUEL_LIKELY = 4.0  # % fuel that thin oil alone allows after ordinary shear: Act; our choice
SMALL = 0.5  # of the way to the fixed Watch limit, below which statistics alone are Watch (8.8)
# K : Al of brazing flux from a new cooler is 1.45 to 1.8 (the-trade 3.9); of what both are above
# their habits, each with its noise, our choice
FLUX = (1.0, 2.6)
MOSTLY_OWN = 0.5  # share of own history from which a ratio is taken above expectation; our choice
BEYOND_NOISE = 2.0  # sd of the test by which a habit must have moved to be worth a word; our choice
AGREE = 2.5  # litres by sodium and by potassium may differ by this factor; our choice
THICKER, THINNER = 1.08, 0.92  # of fresh oil: worth a word; our choice
OXIDISED, SOOTY = 10.0, 2.0  # rise A/cm, %: enough to thicken; our choice
MEASURED_MORE = 1.0  # % by which measured fuel must exceed what the viscosity allows; our choice
LATE = 1.3  # nominal drains on the oil: long past it; our choice
OFTEN = 1.0  # starts an hour and more; our choice
MORE_OIL, WORTH_NOTE = 1.5, 0.05  # times the usual use, and share of the fill it adds; our choice
WORK_LASTS = 2.0  # nominal drains for which work still explains what is seen; our choice
# The stretch of the log by which running is called seldom [days]; our choice.
SELDOM_LEAST_DAYS, SELDOM_DAYS = 14, 180
MUCH_WATER = 0.3  # % that condensation alone seldom passes; common practice, from memory
BIODIESEL = 1.0  # % from which it is called seen; our choice
PLAIN = 100.0  # mg/kg of its stronger marker under which a coolant carries no additive; our choice
SHARES = 0.1  # of a rise by which a contaminant may be out of its own ratio; our choice
WORTH_A_WORD = 0.25  # of what is up that an unproven source must be able to be; our choice
WEAK = 0.1  # of a coolant's strongest marker: less is not missed when it does not show; our choice
ADDED = 3.0  # sd by which an additive element must stand above the fresh oil; our choice
# "Falling" in run-in: to this share of the charge before, and lower; common practice.
FALLS = 0.75
SELDOM = 0.35  # nominal drains a year and less: short or seldom runs; our choice
FUEL_STOP, WATER_STOP = 5.0, 0.5  # % mass, common practice
LARGE_IRON = 25.0  # magnetic index under which nothing is said of it; common practice
MUCH_IRON = 100.0  # magnetic index above iron from which the filter is opened now; VERDICT 3
SCUFF_RISE, SCUFF_HOURS = 3.0, 50.0  # times, in fewer hours; common practice
HOURS_DIFFER = 1.0  # meter units by which a reported and a recorded figure may differ; our choice
# How long a permission lasts, as a share of the nominal drain and in days; our choice.
NEXT_SHIFT, NEXT_SHIFT_DAYS = 0.04, 1  # 10 h for a diesel: the next start or shift
RESAMPLE_WITHIN, RESAMPLE_DAYS = 0.1, 14  # 25 h for a diesel
WATCH_AGAIN, WATCH_DAYS = 0.5, 60  # of the sampling interval, and days where it has none
GOES_ON_DAYS = 90  # before and after work, within which a trouble is the one worked on; our choice
WORKED_BEFORE_DAYS = 7  # work on the engine in the days before a symptom is evidence; our choice
# Additives that fell: so many of them, each from what is much to under this share; our choice.
ADDITIVES_LEFT, MUCH_ADDED, TWO_OF_THEM = 0.6, 100.0, 2
