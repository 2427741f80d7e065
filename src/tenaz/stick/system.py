"""The two layers of a stick as folders: Debian's part with the packages for Python, and this Tenaz itself."""

import shutil
from collections.abc import Callable
from pathlib import Path

import tenaz
from tenaz.stick import deb, wheels
from tenaz.stick.cache import Cache
from tenaz.stick.font import console_font, marks_used
from tenaz.stick.keyboards import LAYOUTS, keymap_text
from tenaz.stick.lock import Lock, Use
from tenaz.stick.modules import load_order
from tenaz.stick.palette import setting
from tenaz.stick.parts import FILES, named
from tenaz.stick.tools import Tools

PACKAGES = "usr/lib/python3/dist-packages"
OWN = "usr/lib/tenaz"
LINKS = {"bin": "usr/bin", "sbin": "usr/sbin", "lib": "usr/lib", "lib64": "usr/lib64"}
NOT_ABOARD = (
    "usr/share/doc", "usr/share/man", "usr/share/locale", "usr/share/info", "usr/share/lintian", "usr/share/bug",
    "usr/share/keymaps", "usr/share/consolefonts", "usr/share/zsh", "usr/share/bash-completion", "usr/include",
    "usr/lib/x86_64-linux-gnu/gconv", "usr/lib/python3.11/ensurepip", "usr/lib/python3.11/pydoc_data",
    "usr/lib/python3.11/lib2to3", "usr/lib/python3.11/idlelib", "usr/lib/python3.11/distutils",
    "usr/lib/python3.11/test",
)  # fmt: skip


def wanted_aboard(name: str) -> bool:
    """Whether a file of a package goes along."""
    return not any(name == part or name.startswith(f"{part}/") for part in NOT_ABOARD)


def unpack_system(lock: Lock, cache: Cache, into: Path, on_part: Callable[[float], None]) -> None:
    """Debian's part of the stick below a folder."""
    for name in named("folders", "root"):
        (into / name).mkdir(parents=True, exist_ok=True)
    for name, target in LINKS.items():
        (into / name).symlink_to(target)
    packages = lock.of(Use.SYSTEM)
    for done, package in enumerate(packages):
        deb.unpack(cache.file(package.file), into, wanted_aboard)
        on_part(0.5 * (done + 1) / len(packages))
    for done, wheel in enumerate(lock.wheels):
        wheels.unpack(cache.file(wheel.file), into / PACKAGES)
        on_part(0.5 + 0.5 * (done + 1) / len(lock.wheels))
    (into / "usr/bin/python3").unlink(missing_ok=True)
    (into / "usr/bin/python3").symlink_to("python3.11")
    (into / "etc/passwd").write_text("root:x:0:0:root:/root:/bin/sh\n")
    (into / "etc/group").write_text("root:x:0:\n")
    (into / "etc/hosts").write_text("127.0.0.1 localhost tenaz\n")
    (into / "etc/machine-id").write_text("")
    (into / "usr/bin/sh").unlink(missing_ok=True)
    (into / "usr/bin/sh").symlink_to("busybox")


def unpack_for_making(lock: Lock, cache: Cache, into: Path, on_part: Callable[[float], None]) -> None:
    """Everything that makes a stick: the programs and their libraries, the boot loaders, the kernel, the fonts."""
    (into / "usr/lib").mkdir(parents=True, exist_ok=True)
    for name, target in LINKS.items():
        (into / name).symlink_to(target)
    needed = lock.of(Use.TOOLS, Use.BOOT, Use.FONT, Use.SYSTEM)
    for done, package in enumerate(needed):
        deb.unpack(cache.file(package.file), into, _for_making)
        on_part((done + 1) / len(needed))


def _for_making(name: str) -> bool:
    if name.startswith("usr/share/"):
        return name.startswith(("usr/share/consolefonts/", "usr/share/unifont/unifont.hex"))
    if name.startswith("lib/modules/"):
        return name.endswith(".ko") and _may_go_along(name)
    return True


MODULE_FOLDERS = ("arch/", "block/", "crypto/", "lib/", "fs/")


def _may_go_along(name: str) -> bool:
    """Whether a module is of a kind that a stick could need: of four thousand, most are not even written."""
    below = name.split("/kernel/", 1)[-1]
    return below.startswith(MODULE_FOLDERS) or below.startswith(
        tuple(f"drivers/{one}/" for one in named("folders", "drivers"))
    )


def compile_layer(tools: Tools, folder: Path, below: str, seen_as: str) -> None:
    """Compile what is imported, so that a stick need not: it could not keep it."""
    tools.run(
        "usr/bin/python3.11", "-S", "-m", "compileall", "-q", "-f", "-s", folder / below, "-p", seen_as,
        "--invalidation-mode", "unchecked-hash", folder / below, failed="The programs could not be compiled",
    )  # fmt: skip


def lay_own(making: Path, into: Path) -> None:
    """This Tenaz, what starts it, its font and its palette, below a folder."""
    source = Path(tenaz.__file__).parent
    target = into / PACKAGES / "tenaz"
    shutil.copytree(source, target, ignore=shutil.ignore_patterns("__pycache__", "*.pyc"))
    lib = into / OWN
    lib.mkdir(parents=True)
    _program(lib / "start", (FILES / "start").read_bytes())
    (into / "usr/bin").mkdir(parents=True)
    _program(into / "usr/bin/tenaz", b"#!/usr/bin/python3.11 -P\nfrom tenaz.__main__ import main\n\nmain()\n")
    marks = marks_used(source)
    fonts, hexfont = making / "usr/share/consolefonts", making / "usr/share/unifont/unifont.hex"
    for doubled, name in ((False, "marks-16.psf"), (True, "marks-32.psf")):
        (lib / name).write_bytes(console_font(marks, fonts, hexfont, doubled))
    (lib / "palette").write_bytes(setting())
    (lib / "keymaps").mkdir()
    for name, layout in LAYOUTS.items():
        (lib / "keymaps" / f"{name}.map").write_text(keymap_text(layout), encoding="utf-8")
    (lib / "modules").mkdir()
    already = set(load_order(kernel_modules(making), named("modules", "start")))
    # In the order of their names they are in the order they can be loaded.
    for number, path in enumerate(
        one for one in load_order(kernel_modules(making), named("modules", "later")) if one not in already
    ):
        (lib / "modules" / f"{number:02}-{path.name}").write_bytes(path.read_bytes())


def kernel_modules(making: Path) -> Path:
    """The folder of the kernel's modules."""
    return next((making / "usr/lib/modules").iterdir())


def kernel(making: Path) -> Path:
    """The kernel."""
    return next((making / "boot").glob("vmlinuz-*"))


def _program(path: Path, text: bytes) -> None:
    path.write_bytes(text)
    path.chmod(0o755)
