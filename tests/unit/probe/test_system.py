from pathlib import Path

import pytest

from tenaz.probe import system


def cache(root: Path, index: int, level: int, kind: str, size: str, shared: str) -> None:
    folder = root / "cpu0" / "cache" / f"index{index}"
    folder.mkdir(parents=True)
    for name, text in (("level", str(level)), ("type", kind), ("size", size), ("shared_cpu_list", shared)):
        (folder / name).write_text(text + "\n")


def test_caches_are_read_and_shared_ones_divided(tmp_path: Path) -> None:
    cache(tmp_path, 0, 1, "Data", "48K", "0-1")
    cache(tmp_path, 1, 1, "Instruction", "32K", "0-1")
    cache(tmp_path, 2, 2, "Unified", "2048K", "0")
    cache(tmp_path, 3, 3, "Unified", "32M", "0-7,16-23")
    assert system.caches(root=tmp_path) == system.Caches(24 * 1024, 2 * 2**20, 2 * 2**20)
    (tmp_path / "cpu0/cache/index2/size").write_text("plenty")
    assert system.caches(root=tmp_path).l2_bytes == system.FALLBACK_CACHE_BYTES[2]
    assert system.caches(root=tmp_path / "nowhere").l1_bytes == system.FALLBACK_CACHE_BYTES[1]


def test_a_control_group_limits_memory(tmp_path: Path) -> None:
    whole = system.memory(tmp_path)
    assert 0 < whole.available_bytes <= whole.total_bytes
    (tmp_path / "memory.max").write_text(str(512 * 2**20))
    (tmp_path / "memory.current").write_text(str(200 * 2**20))
    assert system.memory(tmp_path) == system.Memory(512 * 2**20, 312 * 2**20)
    (tmp_path / "memory.max").write_text("max\n")
    assert system.memory(tmp_path).total_bytes == whole.total_bytes


@pytest.mark.parametrize(
    ("told", "root", "names"),
    [
        ("0::/bench/job\n", "", ("memory.max", "memory.current")),
        ("9:cpu,cpuacct:/x\n4:memory:/bench/job\n0::/other\n", "memory",
         ("memory.limit_in_bytes", "memory.usage_in_bytes")),
    ],
)  # fmt: skip
def test_limits_of_nested_groups_and_of_the_older_form_are_found(
    tmp_path: Path, told: str, root: str, names: tuple[str, str]
) -> None:
    (tmp_path / "told").write_text(told)
    for place, limit, used in (("bench", 512, 100), ("bench/job", 256, 200)):
        folder = tmp_path / root / place
        folder.mkdir(parents=True)
        for name, amount in zip(names, (limit, used), strict=True):
            (folder / name).write_text(f"{amount * 2**20}\n")
    assert system.memory(tmp_path, tmp_path / "told") == system.Memory(256 * 2**20, 56 * 2**20)
    (tmp_path / root / "bench/job" / names[0]).write_text("max\n")
    assert system.memory(tmp_path, tmp_path / "told") == system.Memory(512 * 2**20, 412 * 2**20), "the one above limits"


@pytest.mark.parametrize(
    ("text", "model"), [("model name\t: Aguja   A12\nmodel name\t: Aguja A12\n", "Aguja A12"), ("Hardware: board", "")]
)
def test_the_processor_names_itself_or_not(tmp_path: Path, text: str, model: str) -> None:
    (tmp_path / "cpuinfo").write_text(text)
    assert system.processor_model(tmp_path / "cpuinfo") == model
    assert system.processor_model(tmp_path / "missing") == ""


def test_a_boot_has_a_name_that_stays() -> None:
    assert system.boot_id() == system.boot_id() != ""
    assert system.boot_id(Path("/nowhere")).startswith("since-")
    assert set(system.usable_cores())
