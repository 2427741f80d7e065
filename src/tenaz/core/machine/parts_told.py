"""The parts that evidence belongs to, as they are told with a trial: whether two tellings can be of the same parts.

What one of them leaves out was not known then: typing in a serial, or a firmware's version, is no work on the parts.
"""

BETWEEN = "; "
FIRMWARE = "firmware "
DONE = (" seated anew ", "core ", "cleaned ", "supply ", "fan on", "processor ", "cables ", "card ")
"""How what was done beside the modules begins, or what it holds."""


def same_parts(one: str, other: str) -> bool:
    """Whether two tellings can be of the same parts, as far as both say."""
    if one == other or not one or not other:
        return True
    (mine, my_firmware, my_care), (theirs, their_firmware, their_care) = _told(one), _told(other)
    if my_firmware and their_firmware and my_firmware != their_firmware:
        return False
    if my_care != their_care:
        return False
    if not mine or not theirs:
        return True
    return len(mine) == len(theirs) and all(_sits_alike(words, theirs) for words in mine)


def _told(text: str) -> tuple[list[list[str]], str, str]:
    """The words of each module, its slot first; the firmware; what was done beside the modules."""
    modules, firmware, care = [], "", ""
    for piece in text.split(BETWEEN):
        if piece.startswith(FIRMWARE):
            firmware = piece
        elif piece.startswith(DONE[1:]) or DONE[0] in piece:
            care = piece
        else:
            modules.append(piece.split())
    return modules, firmware, care


def _sits_alike(words: list[str], modules: list[list[str]]) -> bool:
    """Whether a module of the other telling sits in the same slot and contradicts nothing that is told of this one."""
    return any(one[:1] == words[:1] and (set(one) <= set(words) or set(words) <= set(one)) for one in modules)
