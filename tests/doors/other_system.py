"""As if on a system without Unix's own modules: what Tenaz imports of them is not there, the library's own imports are.

``python -m tests.doors.other_system`` loads every module of Tenaz and says which do not load;
``… --works FOLDER`` plays a technician there: a climb on the simulated bench, its book, margins, and the workbench.
"""

import asyncio
import builtins
import html
import importlib
import os
import pkgutil
import re
import signal
import socket
import sys
from pathlib import Path
from types import ModuleType
from typing import Any

from typer.testing import CliRunner

MODULES = ("fcntl", "termios", "tty", "pty", "pwd", "grp", "resource", "syslog", "posix", "crypt")
LACKS: dict[str, tuple[str, ...]] = {
    "os": (
        "getuid", "geteuid", "getgid", "getegid", "getgroups", "uname", "setsid", "killpg", "getpgid", "getpgrp",
        "nice", "fork", "sched_setaffinity", "sched_getaffinity", "sched_yield", "getloadavg", "sysconf", "statvfs",
        "chown", "fchown", "mkfifo", "mknod", "O_CLOEXEC", "O_DIRECT", "O_NOFOLLOW", "O_NONBLOCK", "O_SYNC",
        "posix_fadvise",
        "posix_fallocate", "getpriority", "setpriority", "register_at_fork", "openpty", "sync", "WNOHANG", "pidfd_open",
        "memfd_create", "eventfd", "setresuid", "setuid", "setgid", "initgroups", "ttyname", "ctermid", "pread",
        "pwrite",
    ),
    "signal": (
        "SIGKILL", "SIGHUP", "SIGUSR1", "SIGUSR2", "SIGCHLD", "SIGSTOP", "SIGCONT", "SIGPIPE", "SIGQUIT", "SIGWINCH",
        "SIGALRM", "pthread_sigmask", "pthread_kill", "setitimer", "alarm", "sigwait", "sigtimedwait",
    ),
    "socket": ("AF_UNIX", "SO_PEERCRED", "AF_NETLINK", "SCM_RIGHTS"),
}  # fmt: skip


class _Lacking(ModuleType):
    """A module without some of its names."""

    def __init__(self, real: ModuleType, lacks: tuple[str, ...]) -> None:
        super().__init__(real.__name__)
        self.__dict__["_real"], self.__dict__["_lacks"] = real, lacks

    def __getattr__(self, name: str) -> Any:
        if name in self.__dict__["_lacks"]:
            raise AttributeError(f"module {self.__name__!r} has no attribute {name!r}")
        return getattr(self.__dict__["_real"], name)


def as_if_elsewhere() -> None:
    """From now on what Tenaz imports is as it would be there."""
    real = builtins.__import__
    lacking = {module.__name__: _Lacking(module, LACKS[module.__name__]) for module in (os, signal, socket)}

    def load(name: str, globals: Any = None, locals: Any = None, fromlist: Any = (), level: int = 0) -> Any:
        if str((globals or {}).get("__name__", "")).startswith("tenaz"):
            if name in MODULES:
                raise ModuleNotFoundError(f"No module named {name!r}", name=name)
            if name in lacking:
                return lacking[name]
        return real(name, globals, locals, fromlist, level)

    builtins.__import__ = load


def all_modules() -> list[str]:
    """Every module of Tenaz but those that run on a stick only, and migrations, by name."""
    room = importlib.import_module("tenaz")
    names = [one.name for one in pkgutil.walk_packages(room.__path__, "tenaz.", onerror=lambda _: None)]
    return [one for one in names if ".stick" not in one and ".migrations" not in one and not one.endswith("__main__")]


def broken() -> dict[str, str]:
    """Modules that do not load there, and why."""
    found = {}
    for name in all_modules():
        try:
            importlib.import_module(name)
        except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
            found[name] = f"{type(error).__name__}: {error}"
    return found


def works(folder: Path) -> None:
    """A climb on the simulated bench, its book, margins, a rig by hand, and the workbench: as a technician would."""
    o, climb = importlib.import_module("tenaz.orders"), importlib.import_module("tenaz.core.loads.plan")
    workshop = importlib.import_module("tenaz.workshop.shop.shop").Workshop
    place = folder / "book.db"
    bench = workshop()
    bench.open(place)
    bench.do(o.ChooseRig("ridge"))
    load = climb.LoadPlan(climb.LoadKind.MARCH, duration_s=3600.0)
    bench.do(o.BeginSearch(("data_rate_mts",), bench.rig.stock, load, strategy="adapt", steps=o.Steps()))
    bench.running.wait()
    assert len(bench.trials()) > 3, bench.trials()
    bench.close()
    app = importlib.import_module("tenaz.cli.app").app
    for words in (["margins"], ["book", "failed"], ["rig"], ["session"], ["book", "check"], ["next"]):
        done = CliRunner().invoke(app, ["--book", str(place), *words])
        assert done.exit_code in (0, 1), f"{words}: {done.output} {done.exception!r}"

    def opening(publish: Any) -> Any:
        opened = workshop(publish)
        opened.open(place)
        return opened

    # There is no terminal here that could go away.
    importlib.import_module("tenaz.tui.app.leaving").TERMINAL_LOOKED_AT_S = 3600.0

    async def look() -> str:
        workbench = importlib.import_module("tenaz.tui.app.app").Workbench(opening)
        async with workbench.run_test(size=(120, 40)) as pilot:
            for _ in range(200):
                await pilot.pause(0.05)
                if "ridge on sim" in (seen := _text(workbench)):
                    break
            return seen

    assert "ridge on sim" in asyncio.run(look())


def _text(workbench: Any) -> str:
    """What stands on the screen."""
    return html.unescape(re.sub(r"<[^>]*>", "", workbench.export_screenshot())).replace("\xa0", " ")


if __name__ == "__main__":
    as_if_elsewhere()
    if sys.argv[1:2] == ["--works"]:
        works(Path(sys.argv[2]))
    else:
        for module, why in broken().items():
            print(f"{module}: {why}")
