"""Two knobs with their stretches, as they are typed for a field."""

from tenaz.core.base.errors import Refused
from tenaz.core.rigs.rig import Rig
from tenaz.search.strategies.field import stretches


def read_field(rig: Rig, text: str) -> tuple[tuple[str, ...], dict[str, object]]:
    """Two knobs with their stretches, as typed.

    Raises:
        Refused: not two, a knob that the rig does not have, or no stretch.
    """
    words = [word for word in text.split() if word != "window"]
    named = {rig.knob(name).name: ends for name, ends in stretches(" ".join(words)).items()}
    if len(named) != 2:
        like = "data_rate_mts=4800..6400 t_cl_nck=40..30"
        raise Refused(f"a field has two knobs; type it like {like}, not {text[:60]!r}.")
    over = " ".join(f"{name}={ends[0]}..{ends[1]}" for name, ends in named.items())
    return tuple(named), {"over": over, "window": "window" in text.split()}
