"""A simulated rig for whole nights: it can be tried at any setpoint, and its true rates and speed are known."""

import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.searches.search import TrialFacts
from tenaz.core.trials.costs import Costs
from tenaz.core.trials.facts import LoadFacts, planned_fact
from tenaz.simulated.machine import LoadMix
from tenaz.simulated.physics.throughput import rate_of
from tenaz.simulated.truth import Truth
from tenaz.study.night.worlds import AS_SIMULATED, WORLDS
from tenaz.study.populations import RigsEntry
from tenaz.study.simulated_rigs import made

if TYPE_CHECKING:
    from tenaz.core.rigs.rig import Rig

COSTS = Costs()
LUCK = 41
NOISE = 0.004
DOWN = 0.5
"""Of all failures so many take the machine down: that costs time."""


@dataclass(frozen=True, slots=True)
class Speeds:
    """Bandwidth in GB/s, latency in ns, throughput in GFLOP/s."""

    bandwidth_gb_s: float
    latency_ns: float
    throughput_gflop_s: float

    def over(self, other: "Speeds") -> float:
        """The score against another's: the geometric mean of the three, as a part more."""
        ratios = (
            self.bandwidth_gb_s / other.bandwidth_gb_s,
            other.latency_ns / self.latency_ns,
            self.throughput_gflop_s / other.throughput_gflop_s,
        )
        return float(math.prod(ratios) ** (1 / 3) - 1)


class NightRig:
    """One specimen."""

    def __init__(self, like: str, seed: int, world: str = AS_SIMULATED) -> None:
        self.rig: Rig
        self._world = WORLDS[world]
        self.rig, self._machine = made(RigsEntry(like=like, knob="data_rate_mts"), seed)
        self._truth, self._rng = Truth(self._machine), np.random.default_rng([seed, LUCK])
        self.hours, self.trials = 0.0, 0

    def log_rate(self, setpoint: Setpoint, kind: LoadKind) -> float:
        """Natural logarithm of failures an hour, warmed through."""
        return self._world(self._truth.log_rate(setpoint, _strain(kind)), kind, setpoint, self.rig.stock)

    def speeds(self, setpoint: Setpoint) -> Speeds:
        """Without noise."""
        values = self._machine.values(setpoint)
        hot = self._machine.warmed(values, _strain(LoadKind.TRANSFORM))[0]
        found = self._machine.speed(values, _strain(LoadKind.TRANSFORM), hot)
        return Speeds(
            float(found.bandwidth_gb_s[0]), float(found.latency_ns[0]), float(found.throughput_gflop_s[0])
        )  # fmt: skip

    def try_at(self, setpoint: Setpoint, plan: LoadPlan) -> TrialFacts:
        """One trial, and what it cost."""
        self.trials += 1
        if self._rng.random() > self._truth.boot_chance(setpoint):
            self.hours += COSTS.failed_boot_s / 3600
            return _facts(setpoint, plan, Outcome.NO_BOOT, 0.0, 0.0)
        log_rate = self.log_rate(setpoint, plan.kind) + self._rng.normal(0.0, self._machine.manners.frailty_folds)
        after_s = 3600 * float(self._rng.exponential() * np.exp(-log_rate))
        asked_s = plan.duration_s or 3600.0
        failed = after_s < asked_s
        ran_s = min(after_s, asked_s)
        down = failed and self._rng.random() < DOWN
        self.hours += (COSTS.enter_s + COSTS.boot_s + ran_s + (COSTS.crash_s if down else 0.0)) / 3600
        values = self._machine.values(setpoint)
        speed = self._machine.speed(values, _strain(plan.kind), np.array([55.0]))
        rate = rate_of(plan.kind, speed) * (1 + NOISE * float(self._rng.normal()))
        outcome = Outcome.RESTARTED if down else Outcome.ERRED if failed else Outcome.HELD
        return _facts(setpoint, plan, outcome, ran_s, rate)

    def tolerated(self, setpoint: Setpoint) -> bool:
        """Whether the purpose tolerates it under every kind of load that it asks for; what the rig failed as it came is
        not held against anybody: no value makes that better.
        """
        most = self.rig.purpose.tolerance.rate_per_h
        for kind, _ in self.rig.purpose.hours_asked:
            came = math.exp(self.log_rate(self.rig.stock, kind))
            if math.exp(self.log_rate(setpoint, kind)) - came > most:
                return False
        return True


def _strain(kind: LoadKind) -> LoadMix:
    return LoadMix((kind,), (0.5 if kind.strains is Strains.MEMORY else None,))


def _facts(setpoint: Setpoint, plan: LoadPlan, outcome: Outcome, ran_s: float, rate: float) -> TrialFacts:
    verdict = Verdict.PASS if outcome is Outcome.HELD else Verdict.FAIL
    fact = replace(planned_fact(plan, ran_s, 8, 2**35), rate=rate)
    return TrialFacts(
        setpoint, plan, verdict, elapsed_s=ran_s,
        failed_after_s=None if verdict is Verdict.PASS or outcome is Outcome.NO_BOOT else ran_s,
        booted=outcome is not Outcome.NO_BOOT, facts=LoadFacts((fact,)), outcome=outcome,
    )  # fmt: skip
