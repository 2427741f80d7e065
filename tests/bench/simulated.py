"""What the simulated machine costs: a night of load, a thousand rigs, the hazard of ten thousand setpoints."""

import statistics
import time
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from tenaz.benches.simulated.bench import fresh_state, simulated_bench
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.parts.fitting import fitted_modules
from tenaz.demo.ridge import ridge
from tenaz.simulated.machine import LoadMix, Machine
from tenaz.simulated.made.parts import draw_module, draw_parts
from tenaz.simulated.made.populations import population

DAY = LoadPlan(LoadKind.MARCH, duration_s=24 * 3600.0)
RIGS, SETPOINTS, ROUNDS = 1000, 10_000, 15
MARCH = LoadMix((LoadKind.MARCH,), (0.5,))


class Deaf:
    """Hears nothing of a load."""

    def __getattr__(self, name: str) -> Callable[..., None]:
        del name
        return lambda *_, **__: None


def report() -> None:
    """Print medians, each against what it may take."""
    rig = ridge()
    state, kind = fresh_state(rig), population("desktop-ddr5")
    bench, machine = simulated_bench(rig, state), Machine(rig, state)
    deaf: Any = Deaf()
    rates = np.random.default_rng(1).choice(rig.knob("data_rate_mts").grid.values(), SETPOINTS).astype(float)
    latencies = np.random.default_rng(2).choice(rig.knob("t_cl_nck").grid.values(), SETPOINTS).astype(float)

    def rigs() -> None:
        modules = fitted_modules(rig)
        for seed in range(RIGS):
            draw_parts(kind, seed)
            for module in modules:
                draw_module(kind, seed, replace(module, serial=str(seed)))

    def setpoints() -> None:
        machine.log_rates(machine.along(rig.stock, {"data_rate_mts": rates, "t_cl_nck": latencies}), MARCH)

    works: dict[str, tuple[Callable[[], object], float]] = {
        "24 simulated hours of load": (lambda: bench.loading.load(DAY, deaf), 50.0),
        f"{RIGS:,} rigs drawn": (rigs, 1000.0),
        f"hazard of {SETPOINTS:,} setpoints": (setpoints, 100.0),
    }
    print(f"the simulated machine ({ROUNDS} rounds each)")
    for name, (work, most_ms) in works.items():
        took_ms = []
        for _ in range(ROUNDS if most_ms < 500 else 3):
            begun = time.perf_counter()
            work()
            took_ms.append(1000 * (time.perf_counter() - begun))
        median = statistics.median(took_ms)
        print(f"  {name:<31} {median:6.0f} ms of {most_ms:.0f} ms   {median / most_ms:6.1%}")


if __name__ == "__main__":
    report()
