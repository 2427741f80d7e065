"""Worlds that a night does not believe in: what is otherwise with the rates of a simulated rig."""

import math
from collections.abc import Callable, Mapping

from tenaz.core.knobs.names import DATA_RATE, MEMORY_VDD
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind, Strains

FOLDS_A_RATE, FOLDS_A_MV = 25.0, 0.02
"""Cores grow weaker by an e-fold with each 4 % of data rate, or with each 50 mV of the memory's supply."""
LOG_BACKGROUND = math.log(0.01)

World = Callable[[float, LoadKind, Setpoint, Setpoint], float]
"""From the logarithm of a rate an hour, the load, the setpoint and stock: the logarithm in that world."""


def _as_simulated(log_rate: float, kind: LoadKind, at: Setpoint, stock: Setpoint) -> float:
    del kind, at, stock
    return log_rate


def _above(at: Setpoint, stock: Setpoint, knob: str) -> float:
    now, came = at[knob], stock[knob]
    return float(now - came) if isinstance(now, int) and isinstance(came, int) else 0.0


def _cores_with_rate(log_rate: float, kind: LoadKind, at: Setpoint, stock: Setpoint) -> float:
    if kind.strains is Strains.MEMORY:
        return log_rate
    return log_rate + FOLDS_A_RATE * max(0.0, _above(at, stock, DATA_RATE)) / stock.number(DATA_RATE)


def _cores_with_voltage(log_rate: float, kind: LoadKind, at: Setpoint, stock: Setpoint) -> float:
    if kind.strains is Strains.MEMORY:
        return log_rate
    return log_rate + FOLDS_A_MV * max(0.0, _above(at, stock, MEMORY_VDD))


def _half_as_steep(log_rate: float, kind: LoadKind, at: Setpoint, stock: Setpoint) -> float:
    del kind, at, stock
    return log_rate if log_rate > 0 else log_rate / 2


def _background(log_rate: float, kind: LoadKind, at: Setpoint, stock: Setpoint) -> float:
    del kind, at, stock
    high, low = max(log_rate, LOG_BACKGROUND), min(log_rate, LOG_BACKGROUND)
    return high + math.log1p(math.exp(low - high))


AS_SIMULATED = "as simulated"
WORLDS: Mapping[str, World] = {
    AS_SIMULATED: _as_simulated,
    "cores weaken with the data rate": _cores_with_rate,
    "cores weaken with the memory's supply": _cores_with_voltage,
    "tails half as steep": _half_as_steep,
    "1 failure in 100 h that no setting causes": _background,
}
