"""What stands in which column of the arrays a year is lived on. Powers are means over a step [W]."""

# A kind of day, quarter by quarter: loads on DC with what converters take, AC loads in the mean, apparent power of the
# lines, its square over the units of each line, and the part of the step in which anything on AC runs.
DC_W, AC_W, VA, VA_SQUARE, AWAKE = range(5)
LOAD_COLUMNS = 5

# A kind of day at a source: what it has to spare for chargers, and what the bank must add.
SPARE_W, ADDS_W = range(2)

# A day: row of its loads, row of its source (−1: none), whether the inverters are on, whether it is stored, whether a
# generator is there, and for how much of it arrays elsewhere are there is in the light itself.
LOAD_ROW, PLUG_ROW, INVERTERS_ON, STORED, GENERATOR_THERE = range(5)
DAY_COLUMNS = 5

# A step of the weather: air around the box of the bank [degC], and the part of it in which the engine drives.
AIR_C, DRIVING = range(2)

# Kinds of source, as they stand in the order of their use.
SHORE, GENERATOR, CONVERTERS, ENGINE, SUN = range(5)
KINDS = 5

TIERS = 3
"""Steps in which loads that may wait are switched off."""

# ---- one candidate ----
(
    SUN_SCALE,  # modules on the roof, over those of the design
    LIMIT_SCALE,  # output of its controllers, over those of the design
    FULL_WH,
    FLOOR_WH,
    BEGIN_WH,
    CHARGE_W,
    DISCHARGE_W,
    OHM,
    VOLTS,
    KEPT,  # what comes out of what was put in
    ACCEPTS_PER_H,  # power it accepts near full, over the energy it lacks
    OWN_W,  # packs and controllers themselves
    IDLE_W,  # all inverters without load
    SLEEP_W,  # all inverters asleep
    OFF_W,  # all inverters off
    R1,  # loss of inverters by apparent power
    R2_PER_VA,  # and by its square over the units of each line
    CHARGER_W,  # chargers on AC, into the bank
    CHARGERS_SHARE,  # into the bank of what they take
    ENGINE_W,
    CONVERTERS_W,
    GENERATOR_W,
    FUEL_L_PER_H,
    FUEL_L_PER_WH,
    START_BELOW,
    STOP_ABOVE,
    START_LOAD_W,
    QUIET_FROM_H,
    QUIET_TO_H,
    RESERVE,
    BOX_W_PER_K,
    BOX_H,  # time constant of box and cells
    KEEP_C,
    HEATER_MOST_W,  # 0: there is none
    HEATS_ASLEEP,
    CHARGE_LOW_C,
    CHARGE_HIGH_C,
    CHARGE_COOL_C,
    CHARGE_COOL_W,
    DISCHARGE_LOW_C,
) = range(40)
CANDIDATE_COLUMNS = 40

# ---- a step as it was lived ----
(
    STORED_WH,
    CELLS_C,
    LEVEL,  # tiers of loads switched off
    GENERATOR_ON,
    SHORE_W,  # each source into the bar, in the order of the kinds
    GENERATED_W,
    CONVERTED_W,
    DRIVEN_W,
    SUN_W,
    CUT_W,  # sun that found no taker
    CARRIED_W,  # AC that hook-up or generator carried itself
    LOAD_W,  # loads that were served from the bar
    LOSS_W,  # inverters
    OWN_USED_W,
    HEATER_W,
    WASTE_W,  # in the bank itself
    UNMET_W,
    SHED_W,
) = range(18)
STEP_COLUMNS = 18

# ---- sums of a year ----
(
    SUN_WH,
    CUT_WH,
    ENGINE_WH,
    CONVERTERS_WH,
    SHORE_WH,
    GENERATOR_WH,
    CARRIED_WH,
    SERVED_WH,
    LOSS_WH,
    OWN_WH,
    HEATER_WH,
    WASTE_WH,
    UNMET_WH,
    UNMET_H,
    SHED_WH,
    GENERATOR_H,
    GENERATOR_STARTS,
    FUEL_L,
    CHARGED_WH,
    DRAWN_WH,
    PEAK_IN_W,
    PEAK_OUT_W,
    FULL_H,
    LOWEST_WH,
    LOWEST_AT,
    END_WH,
    HOOKUP_WH,
) = range(27)
SUM_COLUMNS = 27
