"""What a worker is asked to do, as it goes over its command line; and how often it answers."""

import json
from dataclasses import asdict, dataclass

from tenaz.core.loading import CacheLevel, LoadKind

REPORT_EVERY_S = 0.2


@dataclass(frozen=True, slots=True)
class Spec:
    """What a worker is asked to do; ``size`` is bytes of memory (march) or of the strained cache (transform)."""

    kind: LoadKind
    worker: int
    core: int
    size: int
    level: CacheLevel
    laps: int | None
    stop_at_first_error: bool

    def to_json(self) -> str:
        """For the command line of the child."""
        return json.dumps(asdict(self))

    @classmethod
    def from_json(cls, text: str) -> "Spec":
        """The opposite of :meth:`to_json`."""
        fields = json.loads(text)
        return cls(**{**fields, "kind": LoadKind(fields["kind"]), "level": CacheLevel(fields["level"])})
