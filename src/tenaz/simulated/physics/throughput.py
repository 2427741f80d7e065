"""How much of its work a load gets done on the simulated machine: its rate, and how long a lap of it takes."""

from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.loads.plan import LoadPlan
from tenaz.simulated.physics.speed import Speed

PASSES = {
    LoadKind.MARCH: 140.0, LoadKind.CHECKER: 36.0, LoadKind.PERMUTE: 12.0, LoadKind.COPY: 8.0, LoadKind.RETAIN: 4.0,
    LoadKind.DISTURB: 400.0,
}  # fmt: skip
"""How often a lap goes over what it was given."""
OF_BEST = {
    LoadKind.MARCH: 0.80, LoadKind.CHECKER: 0.78, LoadKind.PERMUTE: 0.42, LoadKind.COPY: 0.92, LoadKind.RETAIN: 0.7,
}  # fmt: skip
"""Part of the bandwidth that a load reaches."""
OF_TRANSFORM = {LoadKind.TRANSFORM: 1.0, LoadKind.SOLVE: 1.7, LoadKind.PULSE: 0.5, LoadKind.SOLO: 1.0}
DIGEST_GB_S_PER_GFLOP_S = 0.03
PROGRAM_RUNS_H = 12.0
CPU_LAP_S = 60.0


def rate_of(kind: LoadKind, speed: Speed) -> float:
    """In the kind's unit."""
    if kind in OF_BEST:
        return float(speed.bandwidth_gb_s[0]) * OF_BEST[kind]
    if kind is LoadKind.DISTURB:
        return 4000.0 / float(speed.latency_ns[0])
    throughput = float(speed.throughput_gflop_s[0])
    if kind is LoadKind.DIGEST:
        return throughput * DIGEST_GB_S_PER_GFLOP_S
    return PROGRAM_RUNS_H if kind is LoadKind.PROGRAM else throughput * OF_TRANSFORM[kind]


def lap_s(plan: LoadPlan, speed: Speed, memory_bytes: int) -> float:
    """Seconds of a lap."""
    if plan.kind.strains is not Strains.MEMORY:
        return CPU_LAP_S
    amount = plan.size_bytes if plan.size_bytes is not None else plan.share * memory_bytes
    passing = PASSES[plan.kind] * amount / (float(speed.bandwidth_gb_s[0]) * OF_BEST.get(plan.kind, 0.5) * 1e9)
    return max(0.01, passing + (7 * plan.wait_s if plan.kind is LoadKind.RETAIN else 0.0))
