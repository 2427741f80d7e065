"""Figures of the workshop for whoever collects such: a text file for what has ended, an address of this machine for
what runs. All are gauges: as it is now.
"""

import os
import threading
from collections.abc import Callable, Iterable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tenaz.core.base.errors import Refused

if TYPE_CHECKING:
    from prometheus_client.core import Metric
    from prometheus_client.registry import CollectorRegistry

HERE_ONLY = "127.0.0.1"
MISSING = "Figures need one more package: pip install 'tenaz[figures]'."


@dataclass(frozen=True, slots=True)
class RunningFigures:
    """A load under way: by its last sign of life, and how long it is to go on (None: nobody said)."""

    trial: int
    load: str
    elapsed_s: float
    left_s: float | None
    errors: int
    seen_at_s: float


@dataclass(frozen=True, slots=True)
class RigFigures:
    """One rig: trials by how they ended, seconds that loads held, when its newest trial began (seconds since 1970),
    whether somebody is waited for, how much is to be come back to, and what runs.
    """

    rig: str
    outcomes: tuple[tuple[str, int], ...] = ()
    held_s: tuple[tuple[str, float], ...] = ()
    newest_s: float | None = None
    waits: bool = False
    follow_ups: int = 0
    running: RunningFigures | None = None


def write_figures(path: Path, rigs: Sequence[RigFigures]) -> None:
    """Write them to a text file, whole or not at all; as readable as other files are: a collector is another user.

    Raises:
        Refused: it cannot be written, or the package is not there.
    """
    text = as_text(rigs)
    beside = path.with_name(f".{path.name}.{os.getpid()}")
    try:
        beside.write_bytes(text)
        beside.replace(path)
    except OSError as error:
        with suppress(OSError):
            beside.unlink()
        raise Refused(f"The figures {path} cannot be written: {error.strerror}.") from error


def as_text(rigs: Sequence[RigFigures]) -> bytes:
    """As a collector of text files reads them.

    Raises:
        Refused: the package is not there.
    """
    from prometheus_client.exposition import generate_latest  # noqa: PLC0415

    return generate_latest(_registry(lambda: rigs))


class Served:
    """Figures at an address that only this machine reaches, for as long as it is open."""

    def __init__(self, port: int, look: Callable[[], Sequence[RigFigures]]) -> None:
        """Open it; 0: any port that is free.

        Raises:
            Refused: the port is taken, or the package is not there.
        """
        registry = _registry(look)
        from prometheus_client import start_http_server  # noqa: PLC0415

        try:
            self._server, self._thread = start_http_server(port, addr=HERE_ONLY, registry=registry)
        except OSError as error:
            raise Refused(
                f"Figures cannot be shown at {HERE_ONLY}:{port}: {error.strerror}. Another Tenaz may show them there; "
                f"else set another telling port."
            ) from error

    @property
    def port(self) -> int:
        """Where it is."""
        return int(self._server.server_port)

    def close(self) -> None:
        """Show them no longer."""
        self._server.shutdown()
        self._server.server_close()
        if self._thread is not threading.current_thread():
            self._thread.join()


def _registry(look: Callable[[], Sequence[RigFigures]]) -> "CollectorRegistry":
    try:
        from prometheus_client.registry import CollectorRegistry  # noqa: PLC0415 - only who collects figures has it
    except ImportError:
        raise Refused(MISSING) from None

    class Rigs:
        """Asked anew each time."""

        def collect(self) -> "Iterable[Metric]":
            """All of them, now."""
            return _metrics(look())

    registry = CollectorRegistry()
    registry.register(Rigs())
    return registry


def _metrics(rigs: Sequence[RigFigures]) -> "Iterable[Metric]":
    from prometheus_client.core import GaugeMetricFamily  # noqa: PLC0415

    def gauge(name: str, told: str, value: Callable[[RigFigures], float | None]) -> Any:
        made = GaugeMetricFamily(f"tenaz_{name}", told, labels=["rig"])
        for one in rigs:
            if (found := value(one)) is not None:
                made.add_metric([one.rig], found)
        return made

    # A record may be corrected or undone: none of these only grows.
    trials = GaugeMetricFamily("tenaz_trials", "Trials by how they ended.", labels=["rig", "outcome"])
    held = GaugeMetricFamily("tenaz_held_seconds", "Time for which loads held.", labels=["rig", "load"])
    runs = GaugeMetricFamily("tenaz_load_running", "A load under way, by its trial.", labels=["rig", "trial", "load"])
    for one in rigs:
        for outcome, count in one.outcomes:
            trials.add_metric([one.rig, outcome], count)
        for load, seconds in one.held_s:
            held.add_metric([one.rig, load], seconds)
        if one.running is not None:
            runs.add_metric([one.rig, str(one.running.trial), one.running.load], 1)
    yield trials
    yield held
    yield gauge("newest_trial_timestamp_seconds", "When the newest trial began.", lambda one: one.newest_s)
    yield gauge("waits_for_somebody", "Whether a trial waits to be judged.", lambda one: float(one.waits))
    yield gauge("follow_ups", "What is to be come back to.", lambda one: one.follow_ups)
    yield runs
    for name, told, value in (
        ("elapsed_seconds", "How long the load has run.", lambda run: run.elapsed_s),
        ("left_seconds", "How long it is to go on.", lambda run: run.left_s),
        ("errors", "Errors that it found.", lambda run: run.errors),
        ("seen_timestamp_seconds", "Its last sign of life.", lambda run: run.seen_at_s),
    ):
        yield gauge(f"load_{name}", told, lambda one, value=value: one.running and value(one.running))  # type: ignore[misc]
