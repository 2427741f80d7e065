"""The options of ``tenaz load``: what of a load can be said beside its words."""

from typing import Annotated, Any

import typer

from tenaz.cli.kit import completing
from tenaz.cli.kit.options import parsed
from tenaz.core.base.typed import parse_bytes, parse_cards, parse_cores, parse_duration_s, parse_share
from tenaz.core.loads.plan import CacheLevel, DataKind, MarchMode

What = Annotated[
    list[str],
    typer.Argument(
        help="A load in words (march ss blocks), or a routine: sift, prove, soak.",
        show_default=False,
        autocompletion=completing.loads,
    ),
]
For = Annotated[
    float | None,
    typer.Option("--for", parser=parsed(parse_duration_s), help="How long, like 60s, 10m, 1h30m.", metavar="TIME"),
]
Laps = Annotated[int | None, typer.Option("--laps", min=1, help="How many laps, instead of a time.")]
Share = Annotated[
    float | None,
    typer.Option("--share", parser=parsed(parse_share), help="Share of all memory; else half.", metavar="SHARE"),
]
Size = Annotated[
    int | None,
    typer.Option("--size", parser=parsed(parse_bytes), help="So much memory instead, like 2GiB.", metavar="SIZE"),
]
Level = Annotated[
    CacheLevel | None, typer.Option("--level", case_sensitive=False, help="Where a transform's data live.")
]
LevelTo = Annotated[
    CacheLevel | None, typer.Option("--level-to", case_sensitive=False, help="Walk from there to here.")
]
Test = Annotated[str | None, typer.Option("--test", help="A march test by name or notation.", metavar="TEST")]
Data = Annotated[DataKind | None, typer.Option("--data", help="What a march writes.")]
Mode = Annotated[MarchMode | None, typer.Option("--mode", help="What a march does about caches.")]
Wait = Annotated[
    float | None,
    typer.Option("--wait", parser=parsed(parse_duration_s), help="How long retain waits.", metavar="TIME"),
]
Hertz = Annotated[float | None, typer.Option("--hz", help="How often pulse goes from idle to full.")]
Cards = Annotated[
    Any, typer.Option("--card", parser=parsed(parse_cards), help="Graphics cards to run on, like 0,1.", metavar="CARDS")
]
Side = Annotated[int | None, typer.Option("--px", help="Side of the pictures that paint draws, in pixels.")]
InStep = Annotated[
    float | None,
    typer.Option("--in-step", help="All that runs works and rests together, so many times a second.", metavar="HZ"),
]
Warm = Annotated[
    float | None,
    typer.Option("--warm", help="Hold the part that it strains at so many °C; what runs beside heats.", metavar="°C"),
]
Workers = Annotated[int | None, typer.Option("--workers", min=1, help="Workers; else one a core.")]
Cores = Annotated[
    Any, typer.Option("--cores", parser=parsed(parse_cores), help="Cores to run on, like 0,2-4.", metavar="CORES")
]
OneThread = Annotated[bool, typer.Option("--one-thread", help="One thread of each core only.")]
LeaveCores = Annotated[int, typer.Option("--leave-cores", min=0, help="Leave so many cores free.")]
LeaveMemory = Annotated[
    float,
    typer.Option("--leave-memory", min=0, help="Leave so much memory free; instead of --share.", metavar="GIB"),
]
Beside = Annotated[
    list[str] | None, typer.Option("--beside", help="Another load at the same time, in words.", metavar="LOAD")
]
BadWords = Annotated[str, typer.Option("--bad-words", help="A program's output must not hold this.")]
GoodWords = Annotated[str, typer.Option("--good-words", help="A program's output must hold this.")]
GoOnPastErrors = Annotated[bool, typer.Option("--go-on", help="Go on after an error; else stop at the first.")]
AsJson = Annotated[bool, typer.Option("--json", help="Print what came of it as a line of JSON a load.")]
NoBook = Annotated[bool, typer.Option("--no-book", help="Leave no record in the book.")]
AcrossTheWire = Annotated[
    str,
    typer.Option("--rig", help="A rig of the book across a wire; else this machine.", autocompletion=completing.rigs),
]
