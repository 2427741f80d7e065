"""What CPU loads take for right at first: a wrong value must be told then, or it is what all later ones are held to."""

import struct
import zlib
from typing import TYPE_CHECKING

import numpy as np
import pytest

from tenaz.loads.kernels.twiddles import factors, wrong_factors
from tenaz.loads.kinds.digesting import Results
from tenaz.loads.kinds.solving import Products, Systems

if TYPE_CHECKING:
    from collections.abc import Callable


def test_factors_are_those_of_the_mathematics_and_each_wrong_bit_of_them_is_told() -> None:
    for points in (16, 32, 256, 512):
        table, angles = factors(points), []
        if points in (32, 512):
            angles = [2 * np.pi * j / points for j in range(points // 2)]
        quarter = (points // 2 if points in (32, 512) else points) // 4
        while quarter > 1:
            angles += [np.pi * j * k / (2 * quarter) for j in range(quarter) for k in (1, 2, 3)]
            quarter //= 4
        assert np.abs(np.array(table[0::2]) - np.cos(angles)).max() < 1e-15
        assert np.abs(np.array(table[1::2]) + np.sin(angles)).max() < 1e-15
        assert wrong_factors(points, table) == []
    chosen = np.random.default_rng(3)
    for place, bit in zip(chosen.integers(0, len(table), 800), chosen.integers(0, 64, 800), strict=True):
        bits = np.frombuffer(table, np.uint64)
        bits[place] ^= np.uint64(1) << np.uint64(bit)
        assert wrong_factors(512, table) == [place]
        bits[place] ^= np.uint64(1) << np.uint64(bit)


def test_a_first_product_or_system_that_is_wrong_is_told_and_becomes_no_golden(monkeypatch: pytest.MonkeyPatch) -> None:
    chosen, right = np.random.default_rng(5), np.matmul
    spoiled: list[Callable[[float], float]] = [
        lambda value: value + chosen.uniform(1e-9, 0.5),
        lambda value: value + chosen.integers(1, 100),
        lambda value: struct.unpack("<d", struct.pack("<Q", struct.unpack("<Q", struct.pack("<d", value))[0]
                                                      ^ 1 << int(chosen.integers(0, 64))))[0],
        lambda _: np.nan,
    ]  # fmt: skip
    for number in range(200):
        products, at = Products(64), tuple(chosen.integers(0, 64, 2))

        def spoil(a: object, b: object, out: "np.ndarray[tuple[int, int], np.dtype[np.float64]]", n: int = number,
                  at: tuple[int, ...] = at) -> None:  # fmt: skip
            right(a, b, out=out)
            out[at] = spoiled[n % len(spoiled)](out[at])

        monkeypatch.setattr(np, "matmul", spoil)
        assert products.wrong() != []
        assert products.golden is None
        monkeypatch.setattr(np, "matmul", right)
        assert products.wrong() == []
    systems, solve = Systems(400), np.linalg.solve
    for _ in range(50):
        at = int(chosen.integers(0, 400))
        monkeypatch.setattr(np.linalg, "solve", lambda a, b, k=at: solve(a, b) * (1 + 1e-8 * (np.arange(400) == k)))
        assert "residual" in systems.wrong()
        assert systems.golden is None
    monkeypatch.setattr(np.linalg, "solve", solve)
    assert systems.wrong() == ""


def test_a_broken_stream_is_a_wrong_value_not_the_end_of_the_worker(monkeypatch: pytest.MonkeyPatch) -> None:
    compress = zlib.compress
    monkeypatch.setattr(zlib, "compress", lambda data, level: compress(data, level)[:-8] + b"broken!!")
    assert not Results(b"snow" * 4096, np.arange(64, dtype=np.uint64)).restored
