"""Layouts of keyboards for the stick's console: what each key gives, as the console's own programs read it.

Keys that wait for a letter in most layouts (accents) give their sign at once here: nothing that is typed needs more.
"""

from dataclasses import dataclass

DIGITS, FIRST, SECOND, THIRD = range(2, 14), range(16, 28), range(30, 42), range(44, 54)
"""The kernel's numbers of the keys in a row; beside them stand two that only some keyboards have."""
BESIDE_ENTER, BESIDE_SHIFT = 43, 86


@dataclass(frozen=True, slots=True)
class Layout:
    """What stands on the keys: rows without and with Shift, and signs behind AltGr by the kernel's number of a key."""

    about: str
    plain: tuple[str, str, str, str, str]
    shifted: tuple[str, str, str, str, str]
    third: tuple[tuple[int, str], ...] = ()


LAYOUTS = {
    "us": Layout(
        "US English",
        ("1234567890-=", "qwertyuiop[]", "asdfghjkl;'`", "zxcvbnm,./", "\\<"),
        ("!@#$%^&*()_+", "QWERTYUIOP{}", 'ASDFGHJKL:"~', "ZXCVBNM<>?", "|>"),
    ),
    "uk": Layout(
        "British English",
        ("1234567890-=", "qwertyuiop[]", "asdfghjkl;'`", "zxcvbnm,./", "#\\"),
        ('!"£$%^&*()_+', "QWERTYUIOP{}", "ASDFGHJKL:@¬", "ZXCVBNM<>?", "~|"),
    ),
    "de": Layout(
        "German",
        ("1234567890ß'", "qwertzuiopü+", "asdfghjklöä^", "yxcvbnm,.-", "#<"),
        ('!"§$%&/()=?`', "QWERTZUIOPÜ*", "ASDFGHJKLÖÄ°", "YXCVBNM;:_", "'>"),
        ((8, "{"), (9, "["), (10, "]"), (11, "}"), (12, "\\"), (16, "@"), (27, "~"), (86, "|")),
    ),
    "fr": Layout(
        "French",
        ("&é\"'(-è_çà)=", "azertyuiop^$", "qsdfghjklmù²", "wxcvbn,;:!", "*<"),
        ("1234567890°+", "AZERTYUIOP¨£", "QSDFGHJKLM%~", "WXCVBN?./§", "µ>"),
        ((3, "~"), (4, "#"), (5, "{"), (6, "["), (7, "|"), (8, "`"), (9, "\\"), (10, "^"), (11, "@"), (12, "]"),
         (13, "}")),
    ),
    "es": Layout(
        "Spanish",
        ("1234567890'¡", "qwertyuiop`+", "asdfghjklñ'º", "zxcvbnm,.-", "ç<"),
        ('!"·$%&/()=?¿', "QWERTYUIOP^*", 'ASDFGHJKLÑ"ª', "ZXCVBNM;:_", "Ç>"),
        ((2, "|"), (3, "@"), (4, "#"), (26, "["), (27, "]"), (40, "{"), (43, "}"), (41, "\\")),
    ),
    "it": Layout(
        "Italian",
        ("1234567890'ì", "qwertyuiopè+", "asdfghjklòà\\", "zxcvbnm,.-", "ù<"),
        ('!"£$%&/()=?^', "QWERTYUIOPé*", "ASDFGHJKLç°|", "ZXCVBNM;:_", "§>"),
        ((39, "@"), (40, "#"), (26, "["), (27, "]"), (8, "{"), (11, "}")),
    ),
}  # fmt: skip
"""By the names that they are chosen by."""


def keymap_text(layout: Layout) -> str:
    """The layout as ``loadkeys`` reads it: of every key what it gives alone, with Shift and with AltGr."""
    third = dict(layout.third)
    keys = (*DIGITS, *FIRST, *SECOND, *THIRD, BESIDE_ENTER, BESIDE_SHIFT)
    lines = [f"# {layout.about}", "keymaps 0-2"]
    for key, plain, shifted in zip(keys, "".join(layout.plain), "".join(layout.shifted), strict=True):
        behind = third.get(key, plain)
        lines.append(f"keycode {key} = " + " ".join(f"U+{ord(sign):04x}" for sign in (plain, shifted, behind)))
    return "\n".join(lines) + "\n"
