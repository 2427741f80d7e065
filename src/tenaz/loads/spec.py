"""What a worker is asked to do, as it goes over its command line; and how often it answers."""

import json
from dataclasses import asdict, dataclass, field, replace

from tenaz.core.loads.plan import CacheLevel, DataKind, LoadKind, LoadPlan, MarchMode

REPORT_EVERY_S = 0.2


@dataclass(frozen=True, slots=True)
class Part:
    """A part of a range of memory that was kept from the kernel: ``offset`` in the ``device`` it is mapped from,
    ``size``, and ``start``, its physical address; all bytes.
    """

    device: str
    offset: int
    size: int
    start: int


@dataclass(frozen=True, slots=True)
class Spec:
    """What a worker is asked to do. ``worker`` counts from 0 over all loads that run side by side, ``place`` among the
    ``crew`` of its own load. ``size`` is bytes: of its block of memory, or, for a CPU load, of the strained cache;
    ``size_to`` the same where a load walks over sizes. ``epoch_s`` is a moment of the monotonic clock that all count
    from. ``card`` is the graphics card that it works on, in place of a core. ``parts`` are what of its block lies in
    ranges that were kept free. ``goldens`` are digests taken at stock, by what they were made with and by name.
    ``report_every_s`` is how often it says how far it is.
    """

    plan: LoadPlan
    worker: int
    core: int
    size: int
    size_to: int = 0
    place: int = 0
    crew: int = 1
    epoch_s: float = 0.0
    parts: tuple[Part, ...] = ()
    goldens: dict[str, dict[str, str]] = field(default_factory=dict)
    report_every_s: float = REPORT_EVERY_S
    card: int | None = None

    @property
    def on(self) -> str:
        """What the worker has: a core, or a card."""
        return f"core {self.core}" if self.card is None else f"card {self.card}"

    def to_json(self) -> str:
        """For the command line of the child; loads beside it are not its business."""
        return json.dumps(asdict(replace(self, plan=replace(self.plan, beside=()))))

    @classmethod
    def from_json(cls, text: str) -> "Spec":
        """The opposite of :meth:`to_json`."""
        fields = json.loads(text)
        plan = fields.pop("plan")
        to = plan["level_to"]
        plan |= {
            "kind": LoadKind(plan["kind"]),
            "level": CacheLevel(plan["level"]),
            "level_to": CacheLevel(to) if to else None,
            "data": DataKind(plan["data"]),
            "mode": MarchMode(plan["mode"]),
            "cores": tuple(plan["cores"]),
            "cards": tuple(plan["cards"]),
            "counts_as": (),
            "command": tuple(plan["command"]),
            "beside": (),
        }
        fields["parts"] = tuple(Part(**part) for part in fields["parts"])
        return cls(LoadPlan(**plan), **fields)
