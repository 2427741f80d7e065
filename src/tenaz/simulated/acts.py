"""What hands do to the parts of a simulated rig: the same acts as on any, felt by its machine."""

from dataclasses import replace

from tenaz.core.parts.fitting import Fitting, slots_of
from tenaz.core.rigs.rig import Rig
from tenaz.simulated.state import State


def fitting_now(rig: Rig, state: State) -> Fitting:
    """How the parts of a simulated machine stand."""
    care = state.care
    return Fitting(
        slots_of(rig), state.aside, tuple(sorted(care.reseated.items())), care.cores_off, care.cleanings,
        care.supplies, care.fan, care.spares, care.fresh_modules,
    )  # fmt: skip


def follow(state: State, fitting: Fitting) -> None:
    """The machine's parts stand like this from here on."""
    state.aside, state.unseen = fitting.aside, ()
    state.care = replace(
        state.care, reseated=dict(fitting.seatings), cores_off=fitting.cores_off, cleanings=fitting.cleanings,
        supplies=fitting.supplies, fan=fitting.fan, spares=fitting.spares, fresh_modules=fitting.fresh,
    )  # fmt: skip
