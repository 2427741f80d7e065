"""What only some systems have, asked for in one place: names of the rest stand for nothing there."""

import os
import signal

CLOEXEC = getattr(os, "O_CLOEXEC", 0)
NOFOLLOW = getattr(os, "O_NOFOLLOW", 0)
"""Ways to open a file; nothing where a system has no such way."""


def signals(*names: str) -> tuple[signal.Signals, ...]:
    """Those of these signals that the system has."""
    return tuple(getattr(signal, name) for name in names if hasattr(signal, name))


def owns(user_id: int) -> bool:
    """Whether something that belongs to a user of this number is ours; where users have no numbers everything is."""
    return not hasattr(os, "getuid") or bool(user_id == os.getuid())


def user_number() -> str:
    """What tells this user's files from others' where they lie together."""
    return str(os.getuid()) if hasattr(os, "getuid") else os.environ.get("USERNAME", "user")


def cores_free() -> int:
    """How many cores this process may use."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1
