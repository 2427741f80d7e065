"""The pieces that a stick is put together from, without building one."""

import io
import struct
import tarfile
import threading
import uuid
import zipfile
import zlib
from pathlib import Path

import pytest

from tenaz.core.base.errors import Refused
from tenaz.stick import deb, wheels
from tenaz.stick.cache import Cache, Cancelled, run_stoppable
from tenaz.stick.cpio import archive, console, file
from tenaz.stick.devices import all_devices, device, removable
from tenaz.stick.image import Piece, Plan, Step, chunks
from tenaz.stick.lock import Package, Use, read_lock
from tenaz.stick.making import StickMaker
from tenaz.stick.mirrors import MAIN, SECURITY, mirrors
from tenaz.stick.modules import load_order
from tenaz.stick.partitions import LINUX_DATA, PLAIN_DATA, disk_sectors, laid_out, tables
from tenaz.stick.writing import empty_fat, restore, write, write_device

MIB = 1 << 20


def test_the_table_is_what_the_standard_says() -> None:
    laid = laid_out((("one", PLAIN_DATA, 5), ("two", LINUX_DATA, 3 * MIB + 1)))
    assert [(one.offset, one.bytes) for one in laid] == [(MIB, MIB), (2 * MIB, 4 * MIB)]
    sectors = disk_sectors(laid)
    first, last = tables(laid, sectors, "seed")
    assert len(first) == 34 * 512
    assert len(last) == 33 * 512
    assert first[510:512] == b"\x55\xaa"
    assert first[450] == 0xEE
    for header, entries, at in ((first[512:604], first[1024:], 1), (last[-512:-420], last[:-512], sectors - 1)):
        assert header[:8] == b"EFI PART"
        assert struct.unpack_from("<Q", header, 24) == (at,)
        assert zlib.crc32(header[:16] + bytes(4) + header[20:92]) == struct.unpack_from("<I", header, 16)[0]
        assert zlib.crc32(entries[: 128 * 128]) == struct.unpack_from("<I", header, 88)[0]
        assert uuid.UUID(bytes_le=bytes(entries[:16])) == PLAIN_DATA
        assert struct.unpack_from("<QQ", entries, 128 + 32) == (4096, 4096 + 8191)
        assert entries[128 + 56 : 128 + 62].decode("utf-16-le") == "two"
    assert tables(laid, sectors, "seed") == (first, last) != tables(laid, sectors, "other")


def test_the_first_file_system_has_its_folders_and_ends() -> None:
    data = archive([console(), file("init", b"#!", 0o755), file("modules/a.ko", b"12345")])
    names, at = [], 0
    while True:
        fields = [int(data[at + 6 + 8 * k : at + 14 + 8 * k], 16) for k in range(13)]
        name = data[at + 110 : at + 110 + fields[11] - 1].decode()
        names.append((name, oct(fields[1])))
        start = (at + 110 + fields[11] + 3) // 4 * 4
        at = (start + fields[6] + 3) // 4 * 4
        if name == "TRAILER!!!":
            break
    assert names[:5] == [
        ("dev", "0o40755"), ("dev/console", "0o20600"), ("init", "0o100755"), ("modules", "0o40755"),
        ("modules/a.ko", "0o100644"),
    ]  # fmt: skip
    assert at == len(data)


def packed(files: dict[str, bytes], links: dict[str, str]) -> bytes:
    out = io.BytesIO()
    with tarfile.open(fileobj=out, mode="w:xz") as tar:
        for name, content in files.items():
            one = tarfile.TarInfo(f"./{name}")
            one.size, one.mode = len(content), 0o4755
            tar.addfile(one, io.BytesIO(content))
        for name, target in links.items():
            one = tarfile.TarInfo(f"./{name}")
            one.type, one.linkname = tarfile.SYMTYPE, target
            tar.addfile(one)
    body = out.getvalue()
    members = [(b"debian-binary", b"2.0\n"), (b"data.tar.xz", body)]
    return b"!<arch>\n" + b"".join(
        name.ljust(16) + b"0           0     0     100644  " + str(len(data)).encode().ljust(10) + b"`\n" + data
        + b"\n" * (len(data) % 2)
        for name, data in members
    )  # fmt: skip


def test_a_package_is_opened_where_it_belongs(tmp_path: Path) -> None:
    package, root = tmp_path / "a.deb", tmp_path / "root"
    package.write_bytes(packed({"bin/tool": b"tool", "usr/share/doc/x": b"no"}, {"usr/bin/other": "tool"}))
    deb.unpack(package, root, lambda name: "/doc/" not in name)
    assert (root / "usr/bin/tool").read_bytes() == b"tool"
    assert (root / "usr/bin/tool").stat().st_mode & 0o7777 == 0o755
    assert (root / "usr/bin/other").readlink() == Path("tool")
    assert not (root / "usr/share").exists()
    package.write_bytes(b"nothing of the kind")
    with pytest.raises(Refused, match="no Debian package"):
        deb.unpack(package, root)


def test_a_wheel_is_opened_as_it_is_imported(tmp_path: Path) -> None:
    wheel, root = tmp_path / "a.whl", tmp_path / "root"
    with zipfile.ZipFile(wheel, "w") as made:
        for name in ("a/__init__.py", "a/tests/test_a.py", "a-1.data/purelib/b.py", "a-1.data/scripts/c", "../out.py"):
            made.writestr(name, name)
    wheels.unpack(wheel, root)
    assert sorted(str(one.relative_to(root)) for one in root.rglob("*.py")) == ["a/__init__.py", "b.py"]
    wheel.write_bytes(b"")
    with pytest.raises(Refused, match="cannot be opened as a wheel"):
        wheels.unpack(wheel, root)


def test_modules_come_after_those_they_need(tmp_path: Path) -> None:
    for name, needs in (("a", "b_c"), ("b-c", "d"), ("d", "")):
        (tmp_path / f"{name}.ko").write_bytes(b"\0license=GPL\0depends=" + needs.encode() + b"\0name=x\0")
    assert [one.stem for one in load_order(tmp_path, ["a", "d"])] == ["d", "b-c", "a"]
    with pytest.raises(Refused, match="no module zz"):
        load_order(tmp_path, ["zz"])


def test_mirrors_are_those_of_the_machine(tmp_path: Path) -> None:
    (tmp_path / "sources.list.d").mkdir()
    (tmp_path / "sources.list").write_text("# deb http://old/debian x\ndeb [a=b] http://one/debian bookworm main\n")
    (tmp_path / "sources.list.d/x.sources").write_text("URIs: http://two/debian-security/\nSuites: y\n")
    assert mirrors(sources=tmp_path) == {MAIN: "http://one/debian", SECURITY: "http://two/debian-security"}
    assert mirrors("http://three/debian/") == {MAIN: "http://three/debian", SECURITY: "http://three/debian-security"}
    with pytest.raises(Refused, match="--mirror URL"):
        mirrors(sources=tmp_path / "none")


def test_the_lock_names_no_place_and_is_whole(tmp_path: Path) -> None:
    lock = read_lock()
    assert "://" not in lock.as_toml()
    kept = tmp_path / "lock.toml"
    kept.write_text(lock.as_toml())
    assert read_lock(kept) == lock
    assert {one.use for one in lock.packages} == set(Use)
    assert any("llvmlite" in one.file for one in lock.wheels)
    kept.write_text("release = 3")
    with pytest.raises(Refused, match="tenaz stick renew"):
        read_lock(kept)


def test_what_is_fetched_is_checked(tmp_path: Path) -> None:
    mirror = tmp_path / "mirror/debian/pool"
    mirror.mkdir(parents=True)
    (mirror / "a.deb").write_bytes(b"right")
    sum_ = "6f69b7ed8fb6f1c6bea97a34c3d2ccf8dcfaf2c8ba36bee3f48cd8e1d1d8ca0d"
    address = {MAIN: (tmp_path / "mirror/debian").as_uri()}
    cache = Cache(tmp_path / "cache", threading.Event())
    wrong = Package("a", "1", Use.TOOLS, MAIN, "pool/a.deb", 5, sum_)
    with pytest.raises(Refused, match="its sum differs"):
        cache.fetch(wrong, address)
    assert not list((tmp_path / "cache").glob("*.deb"))
    with pytest.raises(Refused, match="could not be fetched"):
        cache.fetch(Package("b", "1", Use.TOOLS, MAIN, "pool/b.deb", 5, sum_), address)


def test_a_program_is_stopped_at_once() -> None:
    stop = threading.Event()
    threading.Timer(0.3, stop.set).start()
    with pytest.raises(Cancelled):
        run_stoppable(["sleep", "60"], stop, "no")
    with pytest.raises(Refused, match="no: it said why"):
        run_stoppable(["sh", "-c", "echo it said why; exit 3"], threading.Event(), "no")


@pytest.fixture
def machine(tmp_path: Path) -> Path:
    """A built-in disk with the system on it, a free stick, one that is mounted, one that holds a joined volume."""
    for name, removable_, size in (("sda", 0, 1 << 20), ("sdb", 1, 1 << 19), ("sdc", 1, 1 << 19), ("sdd", 1, 1 << 19)):
        disk = tmp_path / "sys/block" / name
        (disk / "device").mkdir(parents=True)
        (disk / "size").write_text(str(size))
        (disk / "removable").write_text(str(removable_))
        (disk / "device/vendor").write_text("Shop ")
        (disk / "device/model").write_text(f" Medium {name[-1]} ")
        (disk / f"{name}1/holders").mkdir(parents=True)
        whole = tmp_path / "sys/class/block" / f"{name}1"
        whole.mkdir(parents=True)
        (whole / "size").write_text(str(size - 2048))
    (tmp_path / "sys/block/sdd/sdd1/holders/dm-0").touch()
    (tmp_path / "proc/self").mkdir(parents=True)
    (tmp_path / "proc/self/mounts").write_text("/dev/sda1 / ext4 rw\n/dev/sdc1 /media/x vfat rw\n")
    return tmp_path


def test_only_what_is_removable_and_free_is_offered(machine: Path) -> None:
    assert [one.name for one in removable(machine)] == ["Shop Medium b"]
    assert len(all_devices(machine)) == 4
    assert device(Path("/dev/sdb"), machine).show() == "/dev/sdb Shop Medium b, 256 MiB, holds sdb1 (255 MiB)"
    for name, why in (
        ("sda", "built in"),
        ("sdc", "in use at /media/x"),
        ("sdd", "in use at /dev/dm-0"),
        ("x", "no disk"),
    ):
        with pytest.raises(Refused, match=why):
            device(Path("/dev") / name, machine)


def small_plan(folder: Path) -> Plan:
    part = folder / "part"
    part.write_bytes(bytes(range(256)) * 5000)
    laid = laid_out((("one", LINUX_DATA, part.stat().st_size),))
    sectors = disk_sectors(laid)
    first, last = tables(laid, sectors, "x")
    return Plan(laid, sectors, (Piece(laid[0].offset, part),), ((0, first), (sectors * 512 - len(last), last)))


def test_a_device_is_written_its_start_last_and_read_again(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    plan, disk, maker = small_plan(tmp_path), tmp_path / "disk", StickMaker()
    disk.write_bytes(b"\xee" * plan.bytes)
    steps: list[Step] = []
    write(plan, disk, steps.append, maker)
    assert disk.read_bytes() == b"".join(data for _, data in chunks(plan))
    assert steps[-1].part > 0.9
    disk.write_bytes(b"\xee" * plan.bytes)

    def stops_half_way(step: Step) -> None:
        if step.part > 0.2:
            maker.stop.set()

    with pytest.raises(Cancelled):
        write(plan, disk, stops_half_way, maker)
    assert disk.read_bytes()[:512] == bytes(512)
    worn = disk.open("r+b")
    monkeypatch.setattr("tenaz.stick.writing._read_at", lambda disk, offset, length: bytes(length))
    with worn, pytest.raises(Refused, match="worn out"):
        write(plan, disk, lambda _: None, StickMaker())


def test_a_device_needs_its_name_typed(machine: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("tenaz.stick.writing.device", lambda path: device(path, machine))
    for act in (
        lambda name: restore(Path("/dev/sdb"), name),
        lambda name: write_device(StickMaker(), Path("/dev/sdb"), name, print),
    ):
        with pytest.raises(Refused, match="type its name: Shop Medium b"):
            act("Shop Medium")


def test_an_ordinary_stick_again(machine: Path, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    disk = tmp_path / "disk"
    disk.write_bytes(b"\xee" * (256 * MIB))
    monkeypatch.setattr("tenaz.stick.writing.device", lambda _: device(Path("/dev/sdb"), machine))
    with pytest.raises(Refused, match=r"is no disk|another device by now"):
        restore(disk, "Shop Medium b")
    monkeypatch.setattr("tenaz.stick.writing.same_device", lambda *_: None)
    assert "ordinary stick again" in restore(disk, "Shop Medium b")
    data = disk.read_bytes()
    boot = data[MIB : MIB + 512]
    assert boot[82:90] == b"FAT32   "
    assert boot[510:512] == b"\x55\xaa"
    sectors = struct.unpack_from("<I", boot, 32)[0]
    assert sectors * 512 == 254 * MIB
    reserved, per_cluster, table = boot[14], boot[13], struct.unpack_from("<I", boot, 36)[0]
    clusters = (sectors - reserved - 2 * table) // per_cluster
    assert 65525 <= clusters <= table * 128 - 2, "too few would be FAT16, too many would not fit the table"
    assert empty_fat(sectors)[reserved * 512 : reserved * 512 + 4] == b"\xf8\xff\xff\x0f"


def test_an_image_is_whole_or_not_there(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    maker, out = StickMaker(), tmp_path / "out.img"
    plan = small_plan(tmp_path)
    monkeypatch.setattr(StickMaker, "make", lambda self, use, size=0: use(plan))
    assert maker.image(out) == plan.bytes == out.stat().st_size
    assert out.read_bytes() == b"".join(data for _, data in chunks(plan))
    before = out.read_bytes()
    maker.stop.set()
    with pytest.raises(Cancelled):
        maker.image(out)
    assert out.read_bytes() == before
    thesis = tmp_path / "thesis.pdf"
    thesis.write_text("three years")
    with pytest.raises(Refused, match="is no image of a stick: name another file"):
        maker.image(thesis)
    maker.stop.clear()
    assert maker.image(thesis, replace=True) == plan.bytes
    assert [one.name for one in tmp_path.iterdir() if one.name.startswith(".out")] == []
    for wrong, why in (
        (tmp_path, "a folder"),
        (tmp_path / "none/x.img", "no such folder"),
        (Path("/dev/null"), "no file"),
    ):
        with pytest.raises(Refused, match=why):
            StickMaker().image(wrong)
