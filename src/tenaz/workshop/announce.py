"""Tells the world that a trial ended: a command of the technician's own, and a web address, both with a time limit."""

import json
import os
import shlex
import subprocess
import threading
import urllib.request
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from tenaz.core.errors import Refused
from tenaz.core.trials import Trial

LIMIT_S = 30.0
"""A command or an address that takes longer is given up: telling must never hold up the work."""


@dataclass(frozen=True, slots=True)
class Announcer:
    """What is told to whom. ``command`` is run without a shell; empty: nobody is told."""

    command: tuple[str, ...] = ()
    address: str = ""

    @classmethod
    def from_environment(cls, environment: Mapping[str, str] = os.environ) -> "Announcer":
        """Read ``TENAZ_HOOK`` (a command) and ``TENAZ_WEBHOOK`` (an http or https address).

        Raises:
            Refused: a command that cannot be split, or an address of another kind.
        """
        address = environment.get("TENAZ_WEBHOOK", "").strip()
        if address and not address.startswith(("http://", "https://")):
            raise Refused(f"TENAZ_WEBHOOK {address!r} is no web address; it begins with http:// or https://.")
        try:
            command = tuple(shlex.split(environment.get("TENAZ_HOOK", "")))
        except ValueError as error:
            raise Refused(f"TENAZ_HOOK cannot be split into words: {error}. Check its quotes.") from error
        return cls(command, address)

    def tell(self, trial: Trial, on_trouble: Callable[[str], None]) -> threading.Thread | None:
        """Tell of a trial that ended, on a thread of its own; what goes wrong is said and stops nothing."""
        if not self.command and not self.address:
            return None
        thread = threading.Thread(target=self._tell, args=(trial, on_trouble), name="announce", daemon=True)
        thread.start()
        return thread

    def _tell(self, trial: Trial, on_trouble: Callable[[str], None]) -> None:
        facts = facts_of(trial)
        if self.command:
            added = {f"TENAZ_{name.upper()}": str(value) for name, value in facts.items()}
            try:
                subprocess.run(
                    self.command,
                    env={**os.environ, **added},
                    stdin=subprocess.DEVNULL,
                    stdout=subprocess.DEVNULL,
                    stderr=subprocess.DEVNULL,
                    timeout=LIMIT_S,
                    check=True,
                )
            except (OSError, subprocess.SubprocessError) as error:
                on_trouble(f"the hook {self.command[0]} failed: {error}")
        if self.address:
            request = urllib.request.Request(
                self.address, json.dumps(facts).encode(), {"Content-Type": "application/json"}, method="POST"
            )
            try:
                with urllib.request.urlopen(request, timeout=LIMIT_S):
                    pass
            except OSError as error:
                on_trouble(f"the web address {self.address} did not take it: {error}")


def facts_of(trial: Trial) -> dict[str, str | int | float]:
    """What is told: plain values by name."""
    return {
        "rig": trial.rig,
        "trial": trial.number,
        "bench": trial.bench.value,
        "outcome": (trial.outcome or "").replace(" ", "-"),
        "verdict": trial.verdict.value,
        "load": trial.plan.kind.value,
        "elapsed_s": round(trial.elapsed_s, 1),
        "errors": trial.errors,
        "setpoint": " ".join(f"{name}={value}" for name, value in trial.setpoint.items()),
    }
