"""The tables of the book."""

from uuid import uuid4

from sqlalchemy import (
    Boolean,
    Column,
    Float,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    MetaData,
    String,
    Table,
    Text,
    UniqueConstraint,
)

from tenaz.journal.base import codec
from tenaz.journal.base.columns import Coded, Instant, Json

metadata = MetaData(
    naming_convention={
        "ix": "ix_%(column_0_label)s",
        "uq": "uq_%(table_name)s_%(column_0_name)s",
        "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
        "pk": "pk_%(table_name)s",
    }
)


MOST_NAME = 80
"""Letters in a name."""


def _setpoint(name: str, nullable: bool = False) -> "Column[object]":
    return Column(name, Coded(codec.setpoint_to_json, codec.setpoint_from_json), nullable=nullable)


def _load(name: str) -> "Column[object]":
    return Column(name, Coded(codec.plan_to_json, codec.plan_from_json), nullable=False)


def _uid() -> "Column[object]":
    """An identity, made with the row: by it a row is the same in whatever book it comes to."""
    return Column("uid", String(32), nullable=True, index=True, default=lambda: uuid4().hex)


def _instant(name: str, nullable: bool = False) -> "Column[object]":
    return Column(name, Instant(), nullable=nullable)


rigs = Table(
    "rigs",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("name", String(80), nullable=False, unique=True),
    Column("data", Coded(codec.rig_to_json, codec.rig_from_json, codec.rig_from_text), nullable=False),
    _uid(),
)

searches = Table(
    "searches",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False),
    Column("bench", String(16), nullable=False),
    # The names of the knobs that it moves, divided by blanks.
    Column("knobs", Text, nullable=False),
    _setpoint("base"),
    _load("load"),
    Column("strategy", String(40), nullable=False),
    Column("parameters", Json(), nullable=True),
    Column("reason", Text, nullable=False, default=""),
    _instant("begun_utc"),
    _instant("ended_utc", nullable=True),
    Column("ended_why", Text, nullable=False, default=""),
    _uid(),
)
Index("ix_searches_rig_id", searches.c.rig_id)

trials = Table(
    "trials",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False),
    Column("number", Integer, nullable=False),
    Column("search_id", ForeignKey("searches.id"), nullable=True),
    Column("bench", String(16), nullable=False),
    # What was asked; what was in force where that is known to differ, and how each value is known.
    _setpoint("setpoint"),
    _setpoint("in_force", nullable=True),
    # What happened at the stations before the load, and what each took.
    Column("stations", Coded(codec.stations_to_json, codec.stations_from_json), nullable=True),
    Column("sources", Coded(codec.sources_to_json, codec.sources_from_json), nullable=True),
    # The parts and the firmware that it ran on; empty where nobody knew.
    Column("fitted", Text, nullable=False, default=""),
    _load("load"),
    Column("station", String(16), nullable=False),
    _instant("begun_utc"),
    Column("boot_id", String(64), nullable=False),
    _uid(),
    Column("reason", Text, nullable=False, default=""),
    Column("note", Text, nullable=False, default=""),
    UniqueConstraint("rig_id", "number"),
)
Index("ix_trials_search", trials.c.search_id)
Index("ix_trials_station", trials.c.station)

moves = Table(
    "moves",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("trial_id", ForeignKey("trials.id"), nullable=False, index=True),
    Column("station", String(16), nullable=False),
    Column("move", String(40), nullable=False),
    Column("detail", Text, nullable=False, default=""),
    Column("monotonic_s", Float, nullable=False),
    _instant("at_utc"),
)

# Every change of a trial, in order: who has seen up to one of them reads only what came after.
changes = Table(
    "changes",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False),
    Column("trial_id", ForeignKey("trials.id"), nullable=False),
)
Index("ix_changes_rig_id", changes.c.rig_id, changes.c.id)

# What was read at each confirmation.
readings = Table(
    "readings",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("trial_id", ForeignKey("trials.id"), nullable=False, index=True),
    Column("data", Coded(codec.readings_to_json, codec.readings_from_json), nullable=False),
    _instant("at_utc"),
)

heartbeats = Table(
    "heartbeats",
    metadata,
    Column("trial_id", ForeignKey("trials.id"), primary_key=True),
    Column("elapsed_s", Float, nullable=False),
    Column("boot_id", String(64), nullable=False),
    _instant("at_utc"),
    Column("lanes", Json(), nullable=True),
)

records = Table(
    "records",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("trial_id", ForeignKey("trials.id"), nullable=False, index=True),
    Column("outcome", String(16), nullable=False),
    Column("seen_by", String(16), nullable=False),
    Column("elapsed_s", Float, nullable=False),
    Column("failed_after_s", Float, nullable=True),
    Column("errors", Integer, nullable=False, default=0),
    Column("detail", Text, nullable=False, default=""),
    # By kind of load, the part that it went over at least once: before 0.5, when no other facts were kept.
    Column("covered", Json(), nullable=True),
    Column("facts", Coded(codec.facts_to_json, codec.facts_from_json), nullable=True),
    _instant("at_utc"),
    _instant("undone_utc", nullable=True),
    _uid(),
)

mismatches = Table(
    "mismatches",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("trial_id", ForeignKey("trials.id"), nullable=False, index=True),
    Column("worker", Integer, nullable=False),
    Column("at_s", Float, nullable=False),
    Column("lap", Integer, nullable=False),
    # Words and addresses are unsigned 64-bit, which SQL integers are not: sixteen hexadecimal digits.
    Column("address", String(16), nullable=False),
    Column("expected", String(16), nullable=False),
    Column("read", String(16), nullable=False),
    Column("read_again", String(16), nullable=False),
    Column("kind", String(24), nullable=False),
    Column("place", Text, nullable=False, default=""),
    Column("physical", String(16)),
    Column("temperature_c", Float),
    Column("load", String(16)),
    Column("core", Integer),
    Column("card", Integer),
    Column("drawn", Coded(codec.drawn_to_json, codec.drawn_from_json)),
)

goldens = Table(
    "goldens",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False),
    Column("made_with", Text, nullable=False),
    Column("name", String(80), nullable=False),
    Column("digest", String(64), nullable=False),
    Column("at_utc", Instant(), nullable=False),
    UniqueConstraint("rig_id", "made_with", "name"),
)

machines = Table(
    "machines",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False),
    Column("state", Json(), nullable=False),
    UniqueConstraint("rig_id"),
)

traces = Table(
    "traces",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("trial_id", ForeignKey("trials.id"), nullable=False, index=True),
    Column("sensors", Json(), nullable=False),
    Column("samples", Integer, nullable=False),
    Column("packed", LargeBinary, nullable=False),
)

setpoints = Table(
    "setpoints",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False),
    Column("name", String(MOST_NAME), nullable=False),
    _setpoint("setpoint"),
    Column("text", Text, nullable=False, default=""),
    _instant("at_utc"),
    _uid(),
    UniqueConstraint("rig_id", "name"),
)

value_notes = Table(
    "value_notes",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("knob", String(80), nullable=False),
    Column("value", Json(), nullable=False),
    Column("kind", String(16), nullable=False),
    Column("text", Text, nullable=False, default=""),
    Column("settled", Boolean, nullable=False, default=False),
    _instant("at_utc"),
    _uid(),
)

# Loads in turn under a name, as they are typed; the workshop's, whatever the rig.
routines = Table(
    "routines",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("name", String(MOST_NAME), nullable=False),
    Column("text", Text, nullable=False),
    _instant("at_utc"),
    _uid(),
    UniqueConstraint("name"),
)

# Trials to come, in the order of their places; what was made or skipped stays.
planned = Table(
    "planned",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("bench", String(16), nullable=False),
    Column("place", Integer, nullable=False),
    _setpoint("setpoint"),
    _load("load"),
    Column("why", Text, nullable=False, default=""),
    Column("state", String(16), nullable=False),
    # Where it stands for a whole search: all trials that this still takes.
    Column("search_id", ForeignKey("searches.id"), nullable=True),
    Column("trial_id", ForeignKey("trials.id"), nullable=True),
    _instant("at_utc"),
    _uid(),
)

# Each time the plan was run: from which number on its trials count, by which rule it was to end, and why it did.
plan_runs = Table(
    "plan_runs",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("bench", String(16), nullable=False),
    Column("from_number", Integer, nullable=False),
    Column("rule", Text, nullable=False),
    _instant("begun_utc"),
    _instant("ended_utc", nullable=True),
    Column("ended_why", Text, nullable=False, default=""),
    _uid(),
)

# What was done to a rig's parts, in order; how they stand since. A simulated rig's parts are apart from its own.
works = Table(
    "works",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("side", String(16), nullable=False),
    # The rig's newest trial then: later ones ran on these parts.
    Column("after_number", Integer, nullable=False),
    Column("text", Text, nullable=False),
    Column("told", Text, nullable=False, default=""),
    Column("minutes", Float, nullable=False),
    Column("fitting", Coded(codec.fitting_to_json, codec.fitting_from_json), nullable=False),
    _instant("at_utc"),
    _uid(),
)

# Labels put on parts; the newest of a part counts, the others are its history.
part_labels = Table(
    "part_labels",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("kind", String(16), nullable=False),
    Column("place", String(80), nullable=False),
    Column("state", String(16), nullable=False),
    Column("text", Text, nullable=False, default=""),
    _instant("at_utc"),
    _uid(),
)

# In which physical memory the load of a trial lay: spans by worker, packed.
laid = Table(
    "laid",
    metadata,
    Column("trial_id", ForeignKey("trials.id"), primary_key=True),
    Column("packed", LargeBinary, nullable=False),
)

# What was heard over a wire of a machine just before it went, packed.
last_seconds = Table(
    "last_seconds",
    metadata,
    Column("trial_id", ForeignKey("trials.id"), primary_key=True),
    Column("packed", LargeBinary, nullable=False),
)

# What was measured of a rig at what was in force then; begun is committed before anything is measured.
measures = Table(
    "measures",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False),
    Column("number", Integer, nullable=False),
    Column("bench", String(16), nullable=False),
    _setpoint("setpoint"),
    # The rig's newest trial then.
    Column("after_number", Integer, nullable=False),
    _instant("begun_utc"),
    _instant("ended_utc", nullable=True),
    Column("found", Coded(codec.measured_to_json, codec.measured_from_json), nullable=True),
    Column("note", Text, nullable=False, default=""),
    _uid(),
    UniqueConstraint("rig_id", "number"),
)

# Reports that were given out, as they were then: their figures do not change when the book grows.
reports = Table(
    "reports",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False),
    Column("number", Integer, nullable=False),
    Column("bench", String(16), nullable=False),
    Column("packed", LargeBinary, nullable=False),
    _instant("at_utc"),
    _uid(),
    UniqueConstraint("rig_id", "number"),
)

snapshots = Table(
    "snapshots",
    metadata,
    Column("trial_id", ForeignKey("trials.id"), primary_key=True),
    Column("text", Text, nullable=False),
    Column("svg_packed", LargeBinary, nullable=False),
    _instant("at_utc"),
)

log = Table(
    "log",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False),
    Column("trial_id", ForeignKey("trials.id"), nullable=True),
    Column("source", String(24), nullable=False),
    Column("text", Text, nullable=False),
    _instant("at_utc"),
    # Set together on lines about something that happened at a time of the trial's load.
    Column("load_s", Float, nullable=True),
    Column("alarm", String(24), nullable=True),
)
Index("ix_log_rig_id", log.c.rig_id, log.c.id)
Index("ix_log_trial_id", log.c.trial_id)

# Things that have an identity, each once, in the order in which they were last touched; kept by triggers.
feed = Table(
    "feed",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("kind", String(16), nullable=False),
    Column("uid", String(32), nullable=False),
    UniqueConstraint("kind", "uid"),
    sqlite_autoincrement=True,
)

# What the book is: its own identity, where its home is.
about = Table(
    "about",
    metadata,
    Column("name", String(40), primary_key=True),
    Column("value", Text, nullable=False),
)

# Other books that this one meets, by their identities, and how far each has heard the other.
peers = Table(
    "peers",
    metadata,
    Column("uid", String(32), primary_key=True),
    Column("state", Json(), nullable=False),
)

# What gave way when two books met that had changed the same thing: kept beside what stands, until somebody looked.
conflicts = Table(
    "conflicts",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=True),
    Column("kind", String(16), nullable=False),
    Column("of_uid", String(32), nullable=False),
    Column("text", Text, nullable=False),
    Column("data", Json(), nullable=True),
    _instant("at_utc"),
    Column("settled", Boolean, nullable=False, default=False),
    _uid(),
)
