"""The triggers that keep the feed: whatever writes a row, and by whichever way, the feed hears of it.

The texts here are those of a migration and are what an opener lets pass in a file: a later change gets other names.
"""

SELF = (
    ("rig", "rigs"),
    ("search", "searches"),
    ("trial", "trials"),
    ("setpoint", "setpoints"),
    ("note", "value_notes"),
    ("work", "works"),
    ("label", "part_labels"),
    ("measure", "measures"),
    ("report", "reports"),
    ("routine", "routines"),
    ("planned", "planned"),
    ("run", "plan_runs"),
    ("conflict", "conflicts"),
)
"""Kinds of things that have an identity of their own, and their tables."""

OF_A_TRIAL = ("records", "heartbeats", "laid", "last_seconds", "snapshots")
"""Tables whose rows are parts of a trial: it is the trial that was touched."""

OF_A_RIG = (("goldens", "goldens"), ("machine", "machines"))
"""Kinds of which a rig has one, known by the rig's identity, and their tables."""

WHEN = ("INSERT", "UPDATE", "DELETE")


def _sources() -> list[tuple[str, str, str]]:
    """Table, kind, and how the identity is found; ``{row}`` stands for the row that was written."""
    trial = "(SELECT uid FROM trials WHERE id = {row}.trial_id)"
    rig = "(SELECT uid FROM rigs WHERE id = {row}.rig_id)"
    own = [(table, kind, "{row}.uid") for kind, table in SELF]
    return [*own, *((table, "trial", trial) for table in OF_A_TRIAL), *((table, kind, rig) for kind, table in OF_A_RIG)]


def sqlite_triggers() -> dict[str, str]:
    """Every trigger of a book in a file: its text by its name."""
    found = {}
    for table, kind, identity in _sources():
        for when in WHEN:
            name, uid = f"fed_{table}_{when.lower()}", identity.format(row="OLD" if when == "DELETE" else "NEW")
            found[name] = (
                f"CREATE TRIGGER {name} AFTER {when} ON {table} WHEN {uid} IS NOT NULL BEGIN "
                f"DELETE FROM feed WHERE kind = '{kind}' AND uid = {uid}; "
                f"INSERT INTO feed (kind, uid) VALUES ('{kind}', {uid}); END"
            )
    return found


def server_statements() -> list[str]:
    """What makes the same on a server, where whoever listens is told besides."""
    touch = """
        IF touched IS NOT NULL THEN
            INSERT INTO feed (kind, uid) VALUES (TG_ARGV[0], touched)
            ON CONFLICT (kind, uid) DO UPDATE SET id = nextval(pg_get_serial_sequence('feed', 'id'));
            PERFORM pg_notify('tenaz', '');
        END IF;
        RETURN NULL;
    """
    ways = {"own": "{row}.uid", "trial": "SELECT uid FROM trials WHERE id = {row}.trial_id"}
    ways["rig"] = "SELECT uid FROM rigs WHERE id = {row}.rig_id"
    made = []
    for way, identity in ways.items():
        old, new = (
            f"touched := {identity.format(row=row)};" if way == "own" else f"touched := ({identity.format(row=row)});"
            for row in ("OLD", "NEW")
        )
        made.append(
            f"CREATE FUNCTION tenaz_fed_{way}() RETURNS trigger LANGUAGE plpgsql AS $$ DECLARE touched varchar; BEGIN "
            f"IF TG_OP = 'DELETE' THEN {old} ELSE {new} END IF; {touch} END $$"
        )
    for table, kind, identity in _sources():
        way = "own" if identity.endswith("uid") else "rig" if "FROM rigs" in identity else "trial"
        made.append(
            f"CREATE TRIGGER fed_{table} AFTER INSERT OR UPDATE OR DELETE ON {table} FOR EACH ROW "
            f"EXECUTE FUNCTION tenaz_fed_{way}('{kind}')"
        )
    return made
