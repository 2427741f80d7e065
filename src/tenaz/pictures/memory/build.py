"""The Memory picture of a rig: what its loads reached, as the book kept it."""

from tenaz.core.machine.physical_memory import covered
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.journal.store import Store
from tenaz.pictures.memory.model import MemoryPicture

NOTHING_KNOWN = (
    "Nothing is known yet of where loads lay in physical memory. It is told by the system to root only: a memory load "
    "run as root on this machine (bench here), or from the stick, is drawn here, with what it reached of all that is "
    "fitted.",
)


def memory_picture(store: Store, rig: Rig, words: tuple[str, ...] = ()) -> MemoryPicture:
    """What all loads of a rig together reached since its modules stand as they do; ``words`` say what reaches more."""
    works = store.works.of(rig.name, BenchKind.HERE)
    # Other modules are other memory, whatever its addresses.
    since = works[-1].after_number if len(works) > 1 else 0
    coverage = covered(store.load.laid_of(rig.name, since))
    if coverage is None:
        return MemoryPicture(rig.name, None, (), (*NOTHING_KNOWN, *words))
    return MemoryPicture(rig.name, coverage, store.load.wrong_places(rig.name, since), words)
