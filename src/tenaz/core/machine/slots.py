"""Memory slots in one line of text, typed off labels: ``A1 empty; A2 24 GiB DDR5 LQ-24, rated 6400, runs 4800``.

Where nobody looked into which slots: ``2x8 GiB DDR4-3200``.
"""

import re
from collections.abc import Sequence
from dataclasses import replace

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import MOST_TEXT_LETTERS
from tenaz.core.machine.machine import MemoryModule

GIB = 2**30
RATES = range(400, 20_001)
"""A bare number that is one is what the module is rated at, not its part."""
ALIKE = re.compile(r"(\d{1,2})\s*[x×*]\s*(?=\d)", re.IGNORECASE)
"""How many modules that are alike."""
EXAMPLE = "A1 empty; A2 24 GiB DDR5 LQ-24-6400, rated 6400, runs 4800, 1 rank"
ALIKE_EXAMPLE = "2x8 GiB DDR4-3200"


def show_slots(modules: Sequence[MemoryModule]) -> str:
    """Modules as :func:`parse_slots` reads them."""
    return "; ".join(_show(module) for module in modules)


def _show(module: MemoryModule) -> str:
    name = module.slot.replace(" ", "_") or "?"
    if not module.fitted:
        return f"{name} empty" if module.size_bytes == 0 else name
    size = f"{name} {(module.size_bytes or 0) / GIB:g} GiB {module.kind} {module.part.replace(' ', '_')}".rstrip()
    parts = [
        " ".join(size.split()),
        f"rated {module.rated_mts}" if module.rated_mts else "",
        f"runs {module.present_mts}" if module.present_mts else "",
        f"{module.ranks} rank{'s' if module.ranks != 1 else ''}" if module.ranks else "",
    ]
    return ", ".join(part for part in parts if part)


def parse_slots(text: str, known: Sequence[MemoryModule] = ()) -> tuple[MemoryModule, ...]:
    """Read slots, divided by ``;``. What a line cannot say (serial, bank) stays as in the ``known`` slot of that name.

    Raises:
        Refused: naming the slot and the word that is not understood.
    """
    if len(text) > MOST_TEXT_LETTERS:
        raise Refused(f"{len(text)} letters are too long for the slots of a machine; type them like: {EXAMPLE}")
    if alike := ALIKE.match(text.strip()):
        one, count = (
            re.sub(r"^\d+(?![\d.]|\s*gi?b)", r"\g<0> GiB", text.strip()[alike.end() :], flags=re.I),
            int(alike[1]),
        )
        text = "; ".join(f"slot_{number} {one}" for number in range(1, count + 1))
    by_name = {module.slot.replace(" ", "_"): module for module in known}
    return tuple(_parse(part.strip(), by_name) for part in text.split(";") if part.strip())


def _parse(text: str, known: dict[str, MemoryModule]) -> MemoryModule:
    name, _, rest = text.partition(" ")
    module = replace(
        known.get(name, MemoryModule(name.replace("_", " "), None)),
        size_bytes=None,
        kind="",
        part="",
        rated_mts=None,
        present_mts=None,
        ranks=None,
    )
    rest = re.sub(r"(?<=\d)\s*gi?b\b", "gib", " ".join(rest.replace(",", " ").split()), flags=re.IGNORECASE)
    rest = re.sub(r"\b(rated|runs) (\d+)(\s*mt/s)?", r"\1\2", rest, flags=re.IGNORECASE)
    rest = re.sub(r"\b(\d)\s*ranks?\b", r"\1ranks", rest, flags=re.IGNORECASE)
    for word in rest.split():
        if word.lower() == "empty":
            module = replace(module, size_bytes=0)
        elif found := re.fullmatch(r"(\d{1,6}(?:\.\d{1,6})?)gib", word):
            module = replace(module, size_bytes=round(float(found[1]) * GIB))
        elif found := re.fullmatch(r"rated(\d{3,5})", word, re.IGNORECASE):
            module = replace(module, rated_mts=int(found[1]))
        elif found := re.fullmatch(r"runs(\d{3,5})", word, re.IGNORECASE):
            module = replace(module, present_mts=int(found[1]))
        elif found := re.fullmatch(r"(\d)ranks", word):
            module = replace(module, ranks=int(found[1]))
        elif found := re.fullmatch(r"((?:lp)?ddr\d[a-z]?)(?:-(\d{3,5}))?", word, re.IGNORECASE):
            rated = int(found[2]) if found[2] else module.rated_mts
            module = replace(module, kind=found[1].upper(), rated_mts=rated)
        elif re.fullmatch(r"\d{3,5}", word) and int(word) in RATES and "rated" not in rest.lower():
            module = replace(module, rated_mts=int(word))
        elif not module.part and word.lower() not in ("rated", "runs", "rank", "ranks"):
            module = replace(module, part=word.replace("_", " "))
        else:
            raise Refused(f"slot {name}: {word[:40]!r} is not understood; type it like: {EXAMPLE}")
    if module.size_bytes is None and (module.kind or module.part or module.rated_mts):
        raise Refused(f"slot {name}: how large is what sits there? Type it like: {EXAMPLE}")
    return module
