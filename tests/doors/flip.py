"""Test door: writes into a running worker's block behind its back, through the system's view of its memory.

``python -m tests.doors.flip PID [BIT]`` flips one bit in the middle of the worker's largest block and says where.
"""

import re
import sys
from pathlib import Path


def flip_bit(pid: int, address: int, bit: int) -> None:
    """Turn over one bit of the 64-bit word at ``address`` in the memory of process ``pid``."""
    at = address + bit // 8
    with Path(f"/proc/{pid}/mem").open("r+b", buffering=0) as memory:
        memory.seek(at)
        byte = memory.read(1)[0] ^ (1 << bit % 8)
        memory.seek(at)
        memory.write(bytes([byte]))


def largest_block(pid: int) -> tuple[int, int]:
    """Start and end of the largest private writable mapping."""
    found = re.findall(r"^([0-9a-f]+)-([0-9a-f]+) rw-p", Path(f"/proc/{pid}/maps").read_text(), re.MULTILINE)
    return max(((int(a, 16), int(b, 16)) for a, b in found), key=lambda block: block[1] - block[0])


if __name__ == "__main__":
    worker = int(sys.argv[1])
    start, end = largest_block(worker)
    word = (start + end) // 2 // 8 * 8
    turned = int(sys.argv[2]) if len(sys.argv) > 2 else 17
    flip_bit(worker, word, turned)
    print(f"flipped bit {turned} of the word at {word:#x} in process {worker}")
