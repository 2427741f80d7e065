"""Options of commands at a rig's bench."""

from typing import Annotated

import typer

from tenaz.cli.kit.opened import RigOption
from tenaz.cli.kit.options import parsed
from tenaz.core.base.typed import parse_duration_s, parse_share
from tenaz.core.loads.plan import LoadKind
from tenaz.core.rigs.rig import BenchKind

Rig = RigOption
Bench = Annotated[BenchKind | None, typer.Option("--bench", help="How to reach it; else as it was last.")]
Load = Annotated[LoadKind, typer.Option("--load", help="The load of each trial.")]
Duration = Annotated[
    float, typer.Option("--for", parser=parsed(parse_duration_s), help="Time under load a trial.", metavar="TIME")
]
Share = Annotated[
    float, typer.Option("--share", parser=parsed(parse_share), help="Share of all memory.", metavar="SHARE")
]
Reason = Annotated[str, typer.Option("--reason", help="Why to go above advised ceilings.")]
Seed = Annotated[int | None, typer.Option("--seed", help="Another specimen of the simulated rig.")]
Pace = Annotated[
    float | None, typer.Option("--pace", min=0.001, help="Simulated seconds in a real one; else as fast as can be.")
]
