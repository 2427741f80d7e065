"""Progress is thinned out, and left out where the terminal does not keep up."""

from tenaz.core.loads.plan import LoadKind, LoadPlan, LoadProgress
from tenaz.core.ports.events import LoadProgressed, Logged
from tenaz.tui.base.bridge import Bridge


def _progress(fraction: float) -> LoadProgressed:
    return LoadProgressed(1, LoadProgress(LoadPlan(LoadKind.MARCH), 1.0, fraction, None, 0.0, 0.0, 0))


def test_a_slow_link_gets_what_happened_and_the_end_but_no_progress() -> None:
    told: list[object] = []
    bridge = Bridge(told.append, backlog=lambda: 9)
    for event in (_progress(0.1), Logged("loop", "boot: came up"), _progress(0.2), _progress(1.0)):
        bridge(event)
    assert len(told) == 2


def test_the_rate_is_what_was_set_and_no_nonsense() -> None:
    told: list[object] = []
    bridge = Bridge(told.append)
    for nonsense in (None, "fast", 0, 1e9):
        bridge.take_rate(nonsense)
    bridge.take_rate(0.2)
    for _ in range(50):
        bridge(_progress(0.5))
    assert len(told) == 1
