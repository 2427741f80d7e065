"""Every setting visible, and changed in place."""

from tenaz.core.base.errors import Refused
from tenaz.pictures.drawing.marks import Role
from tenaz.settings.files import changed
from tenaz.settings.listing import listed, typed
from tenaz.settings.model import Settings
from tenaz.settings.place import settings_path
from tenaz.tui.base.commands import COMMANDS, keys_clash, rebindable
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt


def settings_prompt(settings: Settings) -> Prompt:
    """The list of settings, and a line to change one."""
    commands = {command.name: (command.usual_key, command.help) for command in rebindable()}
    known = listed(settings, commands)

    def check(line: str) -> None:
        name, value = typed(line)
        if name not in [one.name for one in known]:
            raise Refused(f"{name[:60]!r} is no setting; ↑ ↓ go over all there are.")
        if name.startswith("keys.") and isinstance(value, str):
            refuse_clash(name.removeprefix("keys."), value)
        changed("", name, value, str(settings_path()))

    return Prompt(
        "settings",
        f"kept in {settings_path()}; nothing behind = sets one back to what is usual",
        "",
        check,
        picks=[
            Pick(one.line, one.about, "" if one.usual else "changed from what is usual", _role(one.usual))
            for one in known
        ],
        at=0,
    )


def _role(usual: bool) -> Role:
    return Role.FAINT if usual else Role.LIT


def refuse_clash(name: str, key: str) -> None:
    """Refuse a key that does something else already.

    Raises:
        Refused: naming the other command.
    """
    other = keys_clash(COMMANDS, {name: key})
    if other is not None:
        raise Refused(f"{key} is the key of '{other.help}' already; give that one another key first.")
