"""``tenaz``: the command line put together."""

from collections.abc import Callable
from typing import Annotated

import typer

from tenaz import __version__
from tenaz.cli.kit.loudness import with_loudness
from tenaz.cli.kit.options import FirstBookOption, say
from tenaz.cli.looking.book import book, seen
from tenaz.cli.looking.cards import cards
from tenaz.cli.looking.chart import chart
from tenaz.cli.looking.drift import drift, follow_ups
from tenaz.cli.looking.margins import margins
from tenaz.cli.looking.next import next_
from tenaz.cli.looking.report import report
from tenaz.cli.looking.session import session
from tenaz.cli.looking.watch import watch
from tenaz.cli.looking.words import words
from tenaz.cli.rigs.agent import agent
from tenaz.cli.rigs.find import find
from tenaz.cli.rigs.golden import golden
from tenaz.cli.rigs.rig import probe, rig
from tenaz.cli.rigs.set import set_
from tenaz.cli.rigs.sheet import sheet
from tenaz.cli.rigs.sim import sim
from tenaz.cli.rigs.wire import wire
from tenaz.cli.stick.stick import stick
from tenaz.cli.study.proof import proof
from tenaz.cli.study.study import study
from tenaz.cli.tuning.climb import climb
from tenaz.cli.tuning.end import end
from tenaz.cli.tuning.field import field
from tenaz.cli.tuning.load import load
from tenaz.cli.tuning.measure import measure, scores
from tenaz.cli.tuning.night import night
from tenaz.cli.tuning.plan import plan
from tenaz.cli.tuning.trial import enter, trial
from tenaz.cli.tuning.unpick import unpick

BEGIN, PRACTISE = "begin", "practise"

app = typer.Typer(
    no_args_is_help=False,
    rich_markup_mode="markdown",
    pretty_exceptions_enable=False,
    context_settings={"help_option_names": ["-h", "--help"]},
)


def _version(wanted: bool) -> None:
    if wanted:
        say(f"tenaz {__version__}")
        raise typer.Exit


@app.callback(invoke_without_command=True)
def tenaz(
    context: typer.Context,
    book: FirstBookOption = None,
    version: Annotated[
        bool, typer.Option("--version", callback=_version, is_eager=True, help="Say which version this is.")
    ] = False,
) -> None:
    """Find a machine's stable settings, and how far they are from the settings that fail.

    Without a command the workbench opens.

    **Try first**

        tenaz demo                               # the workbench on demo data, a climb half done
        tenaz load march --for 60s --share 50%   # load this machine's memory, verified
        tenaz climb data-rate --bench sim        # a whole climb on the simulated rig
        tenaz --book job.db                      # the workbench on a book of your own
    """
    del version
    context.obj = book
    if context.invoked_subcommand is None:
        from tenaz.tui.app.run import run_workbench  # late: other commands need no screen

        run_workbench(book)


@app.command(rich_help_panel=BEGIN)
def demo(
    rig: Annotated[str, typer.Option("--rig", help="Which rig to begin with: ridge, hut, sled or press.")] = "",
) -> None:
    """Open the workbench on a throw-away copy of the demo book.

    Taller Cumbre tunes **ridge**, a workstation: its data-rate climb is half done. **Tab**, then **c** goes on.
    **hut** is to run cooler, **sled** has a part at fault, **press** is set through a door of its own:
    exercises for each are in docs/guide.

    Examples:

        tenaz demo
        tenaz demo --rig sled

    What is done in it is gone with it.

    Exit status: 0 left, 2 could not be opened.
    """
    from tenaz.tui.app.run import run_demo

    run_demo(rig)


_GROUPS: dict[str, dict[str, Callable[..., None]]] = {
    BEGIN: {"next": next_, "session": session, "probe": probe, "rig": rig},
    "load and try": {"load": load, "trial": trial, "seen": seen, "enter": enter, "golden": golden, "cards": cards},
    "search": {"climb": climb, "field": field, "night": night, "culprit": unpick, "end": end, "plan": plan},
    "judge": {"margins": margins, "measure": measure, "scores": scores, "drift": drift, "proof": proof},
    "look": {"book": book, "chart": chart, "sheet": sheet, "watch": watch, "words": words},
    "faults": {"find": find},
    "hand over": {"report": report, "follow-ups": follow_ups},
    "across a wire": {"agent": agent},
    PRACTISE: {"study": study},
}
"""The commands in the order of the work."""

for _group, _commands in _GROUPS.items():
    for _name, _does in _commands.items():
        app.command(_name, rich_help_panel=_group)(with_loudness(_does))
app.command("unpick", hidden=True)(with_loudness(unpick))
for _inner in (
    *sim.registered_commands,
    *stick.registered_commands,
    *wire.registered_commands,
    *set_.registered_commands,
):
    if _inner.callback is not None:
        _inner.callback = with_loudness(_inner.callback)
app.add_typer(sim, name="sim", rich_help_panel=PRACTISE)
app.add_typer(wire, name="wire", rich_help_panel="across a wire")
app.add_typer(set_, name="set", rich_help_panel="across a wire")
app.add_typer(stick, name="stick", rich_help_panel="the stick")
