"""``tenaz wire``: rigs that are reached over a wire: brought up to it, looked at, added to the book, stopped."""

from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit.opened import JsonOption, book_opened
from tenaz.cli.kit.options import BookOption, errors_told, leave, say

if TYPE_CHECKING:
    from tenaz.wire.protocol import Agent, Opened
    from tenaz.wire.ways import Ssh, Way

wire = typer.Typer(
    no_args_is_help=True,
    help="Rigs across a wire: bring Tenaz over, look who answers, add one to the book, stop what runs there.",
    context_settings={"help_option_names": ["-h", "--help"]},
)
WayArgument = Annotated[
    list[str], typer.Argument(help="A host as your ssh knows it; or serial and a device.", metavar="HOST")
]


def _way(words: list[str]) -> "Way":
    from tenaz.wire.ways import way_of

    return way_of(" ".join(words) if len(words) > 1 else f"ssh {words[0]}")


def _over_ssh(words: list[str]) -> "Ssh":
    from tenaz.wire.ways import Ssh

    way = _way(words)
    if not isinstance(way, Ssh):
        leave(f"{way.text}: only over ssh can anything be brought; a rig on a serial line is started from the stick.")
    return way


@wire.command()
def prepare(
    host: WayArgument,
    remove: Annotated[bool, typer.Option("--remove", help="Take all of it away again.")] = False,
) -> None:
    """Bring over what a rig needs to answer: over ssh, without root and without any registry there.

    It goes into ~/.local/share/tenaz-carried there, each file checked by its sum, and nowhere else.

        tenaz wire prepare bench-3
        tenaz wire prepare bench-3 --remove

    Exit status: 0 it answers, or is away again, 2 could not be.
    """
    from tenaz.workshop.errands.carrying_over import carry_over
    from tenaz.workshop.errands.carrying_over import remove as take_away

    with errors_told():
        way = _over_ssh(host)
        if remove:
            say(f"{way.host}: {'all of it is away again' if take_away(way) else 'there was nothing of ours'}")
            return
        there = carry_over(way, lambda text: say(text, err=True))
        for remark in there.remarks:
            say(f"  {remark}")
        say("\n".join(_look(way)))


@wire.command()
def look(host: WayArgument, as_json: JsonOption = False) -> None:
    """Say who answers there, and what is missing where nobody does.

        tenaz wire look bench-3
        tenaz wire look serial /dev/ttyUSB0

    Exit status: 0 it answers, 2 nobody does.
    """
    from dataclasses import asdict

    from tenaz.cli.kit.as_json import say_object
    from tenaz.core.base.errors import Refused
    from tenaz.wire.there import look_there
    from tenaz.wire.ways import Ssh

    with errors_told():
        way = _way(host)
        try:
            if as_json:
                agent, opened = _asked(way)
                say_object("wire", {"way": way.text, "agent": asdict(agent), "stands": asdict(opened)})
                return
            say("\n".join(_look(way)))
        except Refused as refused:
            lacks = look_there(way).lacks if isinstance(way, Ssh) and "wire prepare" in str(refused) else ()
            leave("\n".join((str(refused), *(f"  {one}" for one in lacks))))


@wire.command()
def add(
    context: typer.Context,
    name: Annotated[str, typer.Argument(help="What the rig is to be called.")],
    host: WayArgument,
    book: BookOption = None,
) -> None:
    """Read the machine there, and add it to the book as a rig on bench wire.

        tenaz wire add "back office" bench-3
        tenaz load march --for 10m --rig "back office"

    Exit status: 0 added, 2 could not be.
    """
    from tenaz.core.rigs.rig import BenchKind
    from tenaz.intake.form.reaching import wired
    from tenaz.intake.new_rigs import rig_from
    from tenaz.intake.rig_form import blank_rig
    from tenaz.orders import KeepRig
    from tenaz.workshop.rigs.across import machine_across

    with book_opened(context, book) as workshop:
        if name in workshop.store.rigs.names():
            leave(f"The book has a rig {name!r} already; to reach it over a wire type the way into its form.")
        way = _way(host)
        machine = machine_across(way, blank_rig(name, "DDR5"))
        rig = wired(rig_from(machine, name, (BenchKind.WIRE, BenchKind.HAND)), way.text)
        say(workshop.do(KeepRig(rig)))


@wire.command()
def stop(host: WayArgument) -> None:
    """Stop what runs there, whoever began it. Whose book it is for hears of it as stopped.

        tenaz wire stop bench-3

    Exit status: 0 nothing runs there, 2 nobody answers.
    """
    with errors_told():
        say(_stopped(_way(host)))


def _stopped(way: "Way") -> str:
    from tenaz.intake.rig_form import blank_rig
    from tenaz.workshop.rigs.across import called

    with called(way, blank_rig("looked at", "DDR5")) as line:
        running = line.opened.running if line.opened is not None else ""
        line.ask("stop", "")
        return "it was told to stop" if running else "nothing runs there"


def _asked(way: "Way") -> "tuple[Agent, Opened]":
    from tenaz.intake.rig_form import blank_rig
    from tenaz.workshop.rigs.across import called

    with called(way, blank_rig("looked at", "DDR5")) as line:
        assert line.agent is not None
        assert line.opened is not None
        return line.agent, line.opened


def _look(way: "Way") -> list[str]:
    from tenaz.core.base.amounts import show_duration

    agent, opened = _asked(way)
    return [
        f"{way.text}: {agent.name} answers, Tenaz {agent.version}, up for {show_duration(opened.up_s)}",
        f"  {'a load runs there' if opened.running else 'nothing runs there'}",
    ]
