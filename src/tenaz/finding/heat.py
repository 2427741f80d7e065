"""Patterns of heat and supply: each with what speaks for it, from the sensors that are kept with every trial."""

from collections.abc import Sequence

from tenaz.core.base.amounts import show_duration
from tenaz.core.base.outcomes import Outcome
from tenaz.core.rigs.rig import Rig
from tenaz.finding.causes import CauseKind
from tenaz.finding.learnt import learnt, strain_of
from tenaz.finding.sightings import BARE_STEP, FAN_STEP, WORTH_READING_S, FaultSighting, sag_key, sag_v_per_w

TIMES_CLEAN = 1.6
"""A cooler that lets a processor get so much warmer for each watt than clean ones do is not clean."""
TOO_COOL_K_PER_W = 0.06
"""No cooler is as good as that: the sensor tells too little."""
BETTER = 0.8
"""Cleaning took a fifth off the kelvins a watt: that was it."""


def patterns(sightings: Sequence[FaultSighting], rig: Rig) -> tuple[str, ...]:
    """What stands out, in words; empty where nothing does."""
    warmed = [one for one in sightings if one.seconds >= WORTH_READING_S and one.sensed.k_per_w is not None]
    on_cores = [one for one in warmed if strain_of(one.ran[0].kind) == "cores" and "cores" not in one.eased]
    found = [*_cooler(on_cores), *_sensor(warmed), *_supply(sightings)]
    found += [
        f"trial {one.number} was stopped by its ceiling after {show_duration(one.seconds)}"
        for one in sightings
        if one.outcome is Outcome.TOO_HOT
    ][-1:]
    hot = max((one for one in on_cores if one.sensed.throttled), key=lambda one: one.number, default=None)
    if hot is not None:
        stop = rig.purpose.processor_ceiling_c[1]
        found.append(
            f"the clock was held back in trial {hot.number}: by heat, or a limit of power (stop at {stop:g} °C)"
        )
    return tuple(found)


def clean_k_per_w(fan: bool) -> float | None:
    """Kelvins a watt of clean rigs of that kind, the middle of those that were learnt of."""
    counts = learnt().kinds[CauseKind.NOTHING].heat
    word, step = ("fan", FAN_STEP) if fan else ("bare", BARE_STEP)
    steps = sorted(
        float(key.split()[1]) for key, count in counts.items() if key.startswith(word) for _ in range(int(count))
    )
    return (steps[len(steps) // 2] + 0.5) * step if steps else None


def _cooler(warmed: list[FaultSighting]) -> list[str]:
    if not warmed:
        return []
    first, last = warmed[0], warmed[-1]
    now, before = last.sensed.k_per_w or 0.0, first.sensed.k_per_w or 0.0
    if last.fitting.cleanings > first.fitting.cleanings:
        part = now / before if before else 1.0
        verdict = "that was the cooler" if part < BETTER else "the cooler was clean"
        return [f"cleaning took it from {before:.2f} to {now:.2f} K/W: {verdict}"]
    clean = clean_k_per_w(last.sensed.fan)
    if clean is None or now < clean * TIMES_CLEAN:
        return []
    fan = "" if last.sensed.fan else "; no fan is seen turning"
    return [
        f"{now:.2f} K/W, {now / clean:.1f} times what clean rigs of its kind show ({clean:.2f}): dust, or paste that "
        f"dried, or a cooler that sits loose{fan}; clean, then the same load again"
    ]


def _sensor(warmed: list[FaultSighting]) -> list[str]:
    low = next((one for one in warmed if (one.sensed.k_per_w or 1.0) < TOO_COOL_K_PER_W), None)
    if low is None:
        return []
    return [
        f"the processor told {low.sensed.k_per_w:.2f} K/W in trial {low.number}: no cooler is as good as that; its "
        f"sensor tells too little, or does not move"
    ]


def _supply(sightings: Sequence[FaultSighting]) -> list[str]:
    by_supply: dict[int, list[FaultSighting]] = {}
    for one in sightings:
        by_supply.setdefault(one.fitting.supplies, []).append(one)
    found = []
    for number, ones in by_supply.items():
        sensed = [one.sensed for one in ones if one.seconds >= WORTH_READING_S]
        sag = sag_v_per_w(sensed)
        if sag is not None and sag_key(sensed) == "sags":
            which = "its supply" if not number else f"supply {number + 1}"
            found.append(f"the rail of {which} falls {sag * 1000:.1f} mV a watt: a weak supply, or a loose plug")
    return found
