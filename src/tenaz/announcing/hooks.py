"""Who wants to know that a trial ended: a command of the technician's own, a web address."""

import os
import shlex
import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.core.trials.trial import Trial


@dataclass(frozen=True, slots=True)
class Hooks:
    """What is told to whom. ``command`` is run without a shell; empty: nobody is told. ``figures`` is a file of figures
    of the whole workshop, ``port`` where figures are shown to this machine (0: nowhere).
    """

    command: tuple[str, ...] = ()
    address: str = ""
    figures: str = ""
    port: int = 0

    @classmethod
    def from_environment(cls, environment: Mapping[str, str] = os.environ) -> "Hooks":
        """Read ``TENAZ_HOOK`` (a command) and ``TENAZ_WEBHOOK`` (an http or https address).

        Raises:
            Refused: a command that cannot be split, or an address of another kind.
        """
        address = environment.get("TENAZ_WEBHOOK", "").strip()
        if address and not address.startswith(("http://", "https://")):
            raise Refused("TENAZ_WEBHOOK is no web address; it begins with http:// or https://.")
        try:
            command = tuple(shlex.split(environment.get("TENAZ_HOOK", "")))
        except ValueError as error:
            raise Refused(f"TENAZ_HOOK cannot be split into words: {error}. Check its quotes.") from error
        return cls(command, address)

    @classmethod
    def known(cls, environment: Mapping[str, str] = os.environ) -> "Hooks":
        """Of the environment; what that does not say is as in the settings, where those can be read.

        Raises:
            Refused: the environment says what cannot be.
        """
        from tenaz.settings.files import read_settings  # noqa: PLC0415 - only who works needs them

        said = cls.from_environment(environment)
        try:
            telling = read_settings().telling
        except Refused:
            return said
        command = said.command or tuple(shlex.split(telling.command))
        return cls(command, said.address or telling.address, telling.figures, telling.port)

    def tell(self, trial: Trial, on_trouble: Callable[[str], None]) -> threading.Thread | None:
        """Tell of a trial that ended, on a thread of its own; what goes wrong is said and stops nothing."""
        if not self.command and not self.address:
            return None
        from tenaz.announcing.announcer import announce  # noqa: PLC0415 - only who tells needs the network

        thread = threading.Thread(
            target=announce, args=(self.command, self.address, trial, on_trouble), name="announce", daemon=True
        )
        thread.start()
        return thread
