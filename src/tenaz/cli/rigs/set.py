"""``tenaz set``: a machine's own doors: what one offers, and which of its attributes is which knob."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit import completing
from tenaz.cli.kit.opened import JsonOption, book_opened
from tenaz.cli.kit.options import BookOption, say

if TYPE_CHECKING:
    from tenaz.core.rigs.offers import Offer

set_ = typer.Typer(
    no_args_is_help=True,
    help="Setting without hands: what a machine's own door offers, and which of that is which knob.",
    context_settings={"help_option_names": ["-h", "--help"]},
)
RigArgument = Annotated[str, typer.Argument(help="Which rig of the book.", autocompletion=completing.rigs)]


@set_.command()
def probe(
    context: typer.Context,
    rig: RigArgument,
    door: Annotated[str, typer.Option("--door", help="Another door than the rig's form names.", metavar="DOOR")] = "",
    out: Annotated[
        Path | None, typer.Option("--out", help="Write a map to be confirmed, as TOML.", metavar="FILE")
    ] = None,
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Show what a door offers, and propose which attribute is which knob. Nothing is changed.

        tenaz set probe press
        tenaz set probe "back office" --door "redfish https://bmc-3 login=~/.config/tenaz/bmc-3" --out map.toml

    What is not sure says so in the file: look it up in the firmware, then tenaz set confirm.

    Exit status: 0 shown, 2 could not be.
    """
    from dataclasses import asdict

    from tenaz.catalogues.writing import write_whole
    from tenaz.cli.kit.as_json import say_object
    from tenaz.doors.mapping import map_text, propose
    from tenaz.workshop.rigs.doors import offers_of

    with book_opened(context, book, rig, read_only=True) as workshop:
        text, offers = offers_of(workshop.at, door)
        proposals = propose(workshop.rig, offers)
        if out is not None:
            write_whole(out, map_text(proposals))
    if as_json:
        rows = [asdict(offer) for offer in offers]
        told = [{"knob": one.mapped.knob, "attribute": one.mapped.attribute, "sure": one.sure, "why": one.why}
                for one in proposals]  # fmt: skip
        say_object("door", {"rig": workshop.rig.name, "door": text, "offers": rows, "proposed": told})
        return
    by_attribute = {one.mapped.attribute: one for one in proposals}
    say(f"{text} offers {len(offers)} attributes; {len(proposals)} of them may be knobs of {rig}")
    for offer in offers:
        one = by_attribute.get(offer.name)
        knob = "" if one is None else f"  → {one.mapped.knob}{'' if one.sure else ' ?'}  ({one.why})"
        say(f"  {offer.name[:36]:<36} {_stands(offer):<14}{knob}")
    if out is not None:
        unsure = sum(not one.sure for one in proposals)
        say(f"written: {out.absolute()}{f'; {unsure} are to be looked up first' if unsure else ''}")


def _stands(offer: "Offer") -> str:
    return f"{offer.current if offer.current is not None else '?'}{' (told only)' if offer.read_only else ''}"


@set_.command()
def confirm(
    context: typer.Context,
    rig: RigArgument,
    file: Annotated[Path, typer.Argument(help="A map, as tenaz set probe wrote it and you looked it through.")],
    door: Annotated[str, typer.Option("--door", help="Another door than the rig's form names.", metavar="DOOR")] = "",
    book: BookOption = None,
) -> None:
    """Take a map of a door to knobs as right: from then on the rig is set through that door.

        tenaz set confirm "back office" map.toml

    It is held against what the door offers now; what does not fit is refused.

    Exit status: 0 taken, 2 could not be.
    """
    from tenaz.doors.mapping import read_map
    from tenaz.orders import KeepRig
    from tenaz.workshop.rigs.doors import confirmed

    with book_opened(context, book, rig) as workshop:
        mapped = read_map(file, workshop.rig)
        kept = confirmed(workshop.at, door, mapped)
        workshop.do(KeepRig(kept))
        say(f"{kept.name} is set through {kept.door}: {len(mapped)} knobs")
