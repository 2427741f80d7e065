"""Which rig a command works on."""

from typing import TYPE_CHECKING

from tenaz.core.rigs import BenchKind

if TYPE_CHECKING:
    from tenaz.workshop.shop import Workshop


def choose_specimen(workshop: "Workshop", rig: str, bench: BenchKind, seed: int | None) -> None:
    """Work on the rig that is meant, or on another specimen of it."""
    from tenaz.intake.new_rigs import specimen
    from tenaz.workshop.orders import ChooseBench, ChooseRig, KeepRig

    chosen = workshop.store.rigs.one(rig)
    if seed is not None:
        chosen = specimen(chosen, seed)
        workshop.do(KeepRig(chosen))
    workshop.do(ChooseRig(chosen.name))
    workshop.do(ChooseBench(bench))
