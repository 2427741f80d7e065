"""``tenaz study``: how strategies do on many hidden rigs."""

import os
import time
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import JsonOption
from tenaz.cli.kit.options import STOPPED_BY_HAND, errors_told, leave, note, say
from tenaz.cli.study.faults import NAME as FAULTS
from tenaz.cli.study.faults import study_faults
from tenaz.cli.study.table import TABLES, study_table
from tenaz.core.base.errors import Refused
from tenaz.loads.processes import ONE_THREAD

if TYPE_CHECKING:
    from tenaz.study.cells import Study

USUAL = (
    "p", "rig-data-rate", "rig-tcl", "rig-core-ratio", "flat-tail", "flat-slope", "steep-tail", "early", "late",
    "drift", "frail", "soft-wall", "false-starts",
)  # fmt: skip


EVERY_S = 2.0


class _Teller:
    """Tells how far it is, now and then."""

    def __init__(self) -> None:
        self._last_s = 0.0

    def __call__(self, text: str) -> None:
        now_s = time.monotonic()
        if now_s - self._last_s >= EVERY_S:
            self._last_s = now_s
            note(text)


def study(
    populations: Annotated[
        list[str] | None, typer.Argument(help="Populations by name, or files in .toml; else all that come along.")
    ] = None,
    strategies: Annotated[str, typer.Option("--strategy", help="Strategies, with commas between.")] = "adapt",
    rigs: Annotated[int, typer.Option("--rigs", min=1, max=100_000, help="Hidden rigs a cell.")] = 2000,
    seed: Annotated[int, typer.Option("--seed", min=0, max=900_000, help="The first rig's seed.")] = 100_000,
    tolerated: Annotated[float, typer.Option("--tolerated-h", min=0.01, help="One failure in so many hours.")] = 1000.0,
    confidence: Annotated[float, typer.Option("--confidence", min=0.5, max=0.999, help="How sure advice is.")] = 0.95,
    proof_h: Annotated[float, typer.Option("--proof-h", min=0, help="Hours that prove what is advised.")] = 8.0,
    alike_h: Annotated[float, typer.Option("--alike-h", min=0, help="Clean hours known of rigs like these.")] = 0.0,
    past: Annotated[
        list[int] | None,
        typer.Option(
            "--past", min=0, max=1000, help="So many rigs like these were climbed before; may be given again."
        ),
    ] = None,
    past_of: Annotated[str, typer.Option("--past-of", help="Of which population these were; else of its own.")] = "",
    prior: Annotated[str, typer.Option("--prior", help="Another prior for adapt, a file in .toml.")] = "",
    practice: Annotated[bool, typer.Option("--practice/--no-practice", help="Usual practice beside it.")] = True,
    out: Annotated[
        list[Path] | None, typer.Option("--out", help="Write .csv, .json, .md, .svg or .pdf; may be given again.")
    ] = None,
    on: Annotated[
        str,
        typer.Option("--on", help="Play on a cluster: its address, like tcp://host:8786, or local.", metavar="WHERE"),
    ] = "",
    as_json: JsonOption = False,
    learn: Annotated[
        Path | None, typer.Option("--learn", help="Learn priors from simulated rigs into this folder instead.")
    ] = None,
) -> None:
    """Play strategies against hidden rigs, over all cores: hours, safety, steps short of best, calibration.

    Examples:

        tenaz study p --rigs 200
        tenaz study --out study.md --out study.svg
        tenaz study mine.toml --strategy adapt,stride
        tenaz study --learn priors/
        tenaz study faults --rigs 500              # the question path on rigs with drawn faults
        tenaz study faults --learn .               # what it goes by, learnt anew
        tenaz study many --rigs 200                # groups unpicked, fields of two knobs
        tenaz study night --rigs 100               # whole rigs tuned alone, against usual practice
        tenaz study night --on tcp://attic:8786    # on a cluster (dask scheduler, dask worker), same to the bit

    *Safe* is advice whose failure rate is truly tolerated. Ctrl-C ends it.

    Exit status: 0 played, 2 could not be, 130 stopped.
    """
    # Before numpy is loaded: a process a core plays, and threads of each would only be in the way.
    os.environ.update(ONE_THREAD)
    from tenaz.core.base.tolerance import Tolerance
    from tenaz.study.cells import Study
    from tenaz.study.hands import working_on

    told = _Teller()
    with errors_told(), working_on(on):
        if populations == [FAULTS]:
            study_faults(rigs, seed, practice, out or (), learn, told)
            return
        if populations and len(populations) == 1 and populations[0] in TABLES:
            study_table(populations[0], rigs, seed, out or (), told)
            return
        if learn is not None:
            _learn(learn, told)
            return
        names = [name.strip() for name in strategies.split(",") if name.strip()]
        parameters = {"prior": prior} if prior else {}
        tolerance = Tolerance(1, tolerated, confidence)
        asked = [
            Study(tolerance, proof_h, rigs, seed, parameters, alike_h, many, past_of)
            for many in sorted(set(past or [0]))
        ]
        _play(populations or USUAL, names, asked, practice, out or (), told, as_json)


def _play(
    populations: Sequence[str],
    names: Sequence[str],
    asked: "Sequence[Study]",
    practice: bool,
    out: Sequence[Path],
    told: _Teller,
    as_json: bool,
) -> None:
    """Strategies on populations; what is done is written, however the rest ends."""
    from tenaz.search.registry import strategy_of
    from tenaz.study.populations import read_population
    from tenaz.study.table import COMPARED_WITH, Compared, compared
    from tenaz.study.writing import as_data, as_markdown, write_study

    found = [read_population(name) for name in populations]
    for name in names:
        strategy_of(name).typed(asked[0].parameters)
    table: list[Compared] = []
    try:
        for population in found:
            for one in asked:
                table += compared(population, names, one, told, COMPARED_WITH if practice else ())
                for path in out:
                    write_study(path, table, one)
    except KeyboardInterrupt:
        done = ", ".join(dict.fromkeys(one.cell.population for one in table)) or "nothing"
        leave(f"stopped by hand; done and {'written' if out else 'not written'}: {done}", STOPPED_BY_HAND)
    for path in out:
        (note if as_json else say)(f"written: {path.absolute()}")
    if as_json:
        say_object("study", as_data(table, asked[-1]))
    elif not out:
        say(as_markdown(table, asked[-1]))


def _learn(folder: Path, told: _Teller) -> None:
    """Write a prior for each kind of knob."""
    from tenaz.catalogues.writing import write_whole
    from tenaz.study.learning import KINDS, LEARNT_FROM, as_toml, learnt

    if not folder.is_dir():
        raise Refused(f"there is no folder {folder}; make it first, or name another.")
    for kind in KINDS:
        prior = learnt(kind, LEARNT_FROM, told)
        if prior is None:
            say(f"{kind.name}: hardly any edge was found; the usual prior stays")
            continue
        path = folder / f"{kind.name}.toml"
        write_whole(path, as_toml(prior))
        say(f"written: {path.absolute()}")
