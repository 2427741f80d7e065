"""``tenaz cards``: the graphics cards of this machine that loads can reach."""

from dataclasses import asdict

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import JsonOption
from tenaz.cli.kit.options import errors_told, say


def cards(as_json: JsonOption = False) -> None:
    """Show the graphics cards that loads can reach here: *paint*, *shade* and *vram* run on them.

    Examples:

        tenaz cards
        tenaz load paint --for 10m
        tenaz load vram --for 30m --share 80% --card 0
        tenaz proof --card 0

    They need an extra, and a driver that offers Vulkan (or Metal, or Direct3D 12): pip install 'tenaz[graphics]'.

    Exit status: 0 shown, 2 none can be reached, with what is missing.
    """
    from tenaz.core.base.errors import Refused
    from tenaz.core.loads.plan import show_bytes
    from tenaz.loads.card_crews import NO_CARD
    from tenaz.loads.cards import cards_here

    with errors_told():
        found = cards_here()
        if not found:
            raise Refused(NO_CARD[0].upper() + NO_CARD[1:])
    if as_json:
        say_object("cards", {"cards": [asdict(one) for one in found]})
        return
    for one in found:
        memory = f", {show_bytes(one.memory_bytes)}" if one.memory_bytes else ""
        say(f"card {one.index}  {one.name}, {one.kind.in_words}{memory}")
        say(f"        {one.driver}")
