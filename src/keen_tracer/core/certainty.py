"""How sure is sure: the two figures that every interval and every "beyond noise" is made with."""

# Standard deviations on either side that hold 95 % of a normal distribution (NIST/SEMATECH
# e-Handbook 1.3.6.7.1); that 95 % is asked for is our choice.
SURE = 1.96
# A chance below which something is no accident, two-sided; our choice.
BY_CHANCE = 0.05
