"""Times and sizes in few letters."""

import math


def show_duration(seconds: float) -> str:
    """Like 45s, 12m, 1h30m: short enough for a log line, exact to the second below an hour."""
    whole = round(seconds)
    hours, rest = divmod(whole, 3600)
    minutes, left = divmod(rest, 60)
    if hours:
        return f"{hours}h{minutes:02d}m" if minutes else f"{hours}h"
    if minutes:
        return f"{minutes}m{left:02d}s" if left else f"{minutes}m"
    return f"{left}s"


def show_clock(seconds: float) -> str:
    """Like 00:12:40."""
    whole = max(0, int(seconds))
    return f"{whole // 3600:02d}:{whole // 60 % 60:02d}:{whole % 60:02d}"


def show_bytes(count: int) -> str:
    """Like 48 KiB, 512 MiB or 1.5 GiB."""
    if count and count < 2**20 and count % 2**10 == 0:
        return f"{count // 2**10} KiB"
    return f"{count / 2**30:g} GiB" if count >= 2**30 else f"{count / 2**20:g} MiB"


def show_sure(sure: float) -> str:
    """Like ``92%`` or ``99.4%``, rounded down: what falls short of what is asked never reads as if it did not."""
    percent = 100.0 * sure + 1e-9
    if percent >= 99.9:
        return "over 99.9%"
    return f"{int(10 * percent) / 10:.1f}%" if percent >= 99 else f"{int(percent)}%"


def show_chance(chance: float) -> str:
    """Like ``42%``; what is nearly sure is never called certain: ``>99%``."""
    return ">99%" if chance >= NEARLY else f"{chance:.0%}"


NEARLY = 0.995


def to_digits(number: float, digits: int) -> float:
    """Rounded to so many digits that count; nought for what is not finite."""
    return float(f"{number:.{digits}g}") if math.isfinite(number) else 0.0
