"""Digests that a card makes of its own work, one after the other: what most runs had, and where one differs."""

from collections import Counter
from collections.abc import Sequence

DIGEST_BYTES = 8
FIRST_RUNS = 5
"""What is right is what most of so many first runs agree on, digest by digest."""


def split(digests: bytes) -> list[bytes]:
    """One by one."""
    return [digests[at : at + DIGEST_BYTES] for at in range(0, len(digests), DIGEST_BYTES)]


def agreed(runs: Sequence[bytes]) -> bytes:
    """What most runs have, digest by digest; all are equally long."""
    each = zip(*(split(one) for one in runs), strict=True)
    return b"".join(Counter(one).most_common(1)[0][0] for one in each)


def differing(right: bytes, seen: bytes) -> list[int]:
    """Places of the digests that are not what they must be."""
    if seen == right:
        return []
    return [place for place, pair in enumerate(zip(split(right), split(seen), strict=True)) if pair[0] != pair[1]]
