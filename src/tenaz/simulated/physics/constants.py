"""Every constant of the simulated machine's physics, with its unit, its reason and its source.

What differs from machine to machine is no constant: it is drawn from a population (see :mod:`tenaz.simulated.draws`).
"""

from dataclasses import dataclass

OWN = "own choice"
CMOS = "CMOS power and delay: alpha-power law (Sakurai and Newton 1990)"
RETENTION = "published studies of retention in DRAM"
HAMMER = "published studies of row disturbance"
HEAT = "first-order thermal network"


@dataclass(frozen=True, slots=True)
class Constant:
    """One number."""

    value: float
    unit: str
    reason: str
    source: str = OWN


TABLE = {
    # -- failing ------------------------------------------------------------------------------------------------
    "edge_rate": Constant(1.0, "1/h", "the failure rate that is called the edge: one failure an hour"),
    "freeze_folds": Constant(3.0, "e-folds", "beyond the edge, half of all failures take the machine down"),
    "deepest_folds": Constant(60.0, "e-folds", "beyond that it makes no difference any more"),
    "record_before": Constant(0.35, "1", "part of failures of cores and supply that a hardware record precedes"),
    "record_ahead_s": Constant(90.0, "s", "mean time from such a record to the failure"),
    # -- starting -----------------------------------------------------------------------------------------------
    "enter_s": Constant(20.0, "s", "typing the values in"),
    "boot_s": Constant(90.0, "s", "a start with training of the memory"),
    "warm_boot_s": Constant(40.0, "s", "a start that keeps what was trained"),
    "failed_boot_s": Constant(480.0, "s", "retries, clearing the settings, typing them in again"),
    "tries": Constant(3.0, "1", "failed starts in a row until the firmware comes up with base values"),
    "retrain_folds": Constant(2.0, "e-folds", "that near the wall a start takes a second training pass"),
    "training_folds": Constant(0.25, "e-folds", "what luck in training moves every edge of the signal"),
    "clock_set_s": Constant(60.0, "s", "after a start, until the system's time service sets the calendar right"),
    # -- signal -------------------------------------------------------------------------------------------------
    "detuned_mts": Constant(1200.0, "MT/s per octave²", "drive or termination off its best: reflections"),
    "vddq_part": Constant(0.5, "1", "part of the signal's gain that is the drivers' supply"),
    "floor_gain": Constant(0.00035, "1/mV", "part of a timing's floor that a millivolt of VDD takes off", CMOS),
    "supply_sharpness": Constant(4.0, "mV", "failures grow e-fold below a supply's floor"),
    "controller_half": Constant(0.6, "1", "what the controller asks at half of its clock"),
    "io_sharpness": Constant(6.0, "mV", "failures grow e-fold outside the window of the I/O supply"),
    "fabric_sharpness": Constant(22.0, "MHz", "failures grow e-fold beyond the fabric's clock"),
    "fabric_gain": Constant(1.1, "MHz/mV", "what a millivolt adds to the fabric's clock", CMOS),
    "fabric_nominal": Constant(900.0, "mV", "the fabric's nominal voltage"),
    "refresh_trc_part": Constant(0.02, "1", "part of a refresh by which failures grow e-fold"),
    # -- cells --------------------------------------------------------------------------------------------------
    "retention_half": Constant(10.0, "K", "retention halves over so much", RETENTION),
    "retention_at_c": Constant(45.0, "°C", "temperature at which retention is stated"),
    "retention_sharpness": Constant(0.05, "1", "ln of the time by which failures grow e-fold", RETENTION),
    "disturb_sharpness": Constant(0.08, "1", "ln of the activations by which flips grow e-fold", HAMMER),
    "disturb_near": Constant(0.9, "1", "part of disturbed cells in the very next rows", HAMMER),
    # -- cores --------------------------------------------------------------------------------------------------
    "vmin_flat": Constant(0.50, "1", "part of a core's least voltage that does not depend on the clock", CMOS),
    "vmin_linear": Constant(0.28, "1", "part that rises with the clock", CMOS),
    "vmin_cubic": Constant(0.22, "1", "part that rises with its cube: faster than linearly", CMOS),
    "vmin_per_k": Constant(0.25, "mV/K", "a hot core is slower"),
    "core_sharpness": Constant(6.0, "mV", "failures grow e-fold below a core's least voltage"),
    "offset_step": Constant(4.0, "mV", "one step of a core's own offset"),
    "load_line_least": Constant(0.10, "mΩ", "at the steepest correction, step 8"),
    "load_line_step": Constant(0.10, "mΩ", "what each step below adds"),
    "load_line_auto": Constant(5.0, "step", "what the firmware takes"),
    "leak_doubles": Constant(30.0, "K", "leakage doubles over so much", CMOS),
    "idle_part": Constant(0.07, "1", "switching of an idle core"),
    "uncore_w": Constant(14.0, "W", "controller, fabric and caches"),
    "clock_floor": Constant(0.35, "1", "no limit takes the clock below that part of the base clock"),
    "wear_mv_per_kh": Constant(3.0, "mV/1,000 h", "least voltage that a thousand hours at 1.3 V add"),
    "wear_fold": Constant(60.0, "mV", "wear grows e-fold with so much more voltage"),
    # -- heat ---------------------------------------------------------------------------------------------------
    "case_k_per_w": Constant(0.045, "K/W", "the air in the case against the room", HEAT),
    "module_k_per_w": Constant(3.4, "K/W", "a module against the air", HEAT),
    "fan_part": Constant(0.45, "1", "what a fan on the modules leaves of their resistance, and of the case's", HEAT),
    "module_idle_w": Constant(1.1, "W", "a module that only refreshes"),
    "module_load_w": Constant(3.2, "W", "a module at the full rate and its nominal voltage"),
    "module_warms_next": Constant(0.18, "1", "part of a module's warmth that the next one gets", HEAT),
    "module_s": Constant(110.0, "s", "time constant of a module", HEAT),
    "room_swing": Constant(1.8, "K", "how far the room goes either way over a day"),
    "room_warmest": Constant(15.5, "h", "when it is warmest, by the clock on the wall"),
    "contact_opens": Constant(7.0, "K", "warmth of a module over the workshop at which a loose contact opens"),
    # -- speed --------------------------------------------------------------------------------------------------
    "row_miss": Constant(0.020, "1", "part of lines that must open a row, banks in parallel counted"),
    "turns": Constant(0.013, "1", "part of lines before which the bus turns round"),
    "same_group": Constant(0.05, "1", "part of lines that meet their bank group still busy"),
    "rank_switches": Constant(0.02, "1", "part of lines before which the rank changes"),
    "fabric_bytes": Constant(56.0, "B/clock", "what the fabric moves a clock"),
    "out_of_step": Constant(0.05, "1", "part of bandwidth lost while fabric and controller are not in step"),
    "path_ns": Constant(28.0, "ns", "from a core to the controller and back, at the fabric's usual clock"),
    "crossing_cycles": Constant(3.0, "clocks", "what a crossing costs there and back"),
    "noise": Constant(0.004, "1", "scatter of a measured speed from run to run"),
    "start_noise": Constant(0.002, "1", "scatter of a measured speed from start to start"),
    "flop_per_clock": Constant(6.0, "1/clock", "what a core does in a transform, of its peak"),
}


def k(name: str) -> float:
    """A constant's value."""
    return TABLE[name].value
