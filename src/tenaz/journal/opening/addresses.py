"""Where a book on a server is: read from what was typed, and shown without any secret."""

import os
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy import URL, make_url
from sqlalchemy.exc import SQLAlchemyError

from tenaz.core.base.errors import BookError

SECRET = ("password", "sslpassword", "passfile", "sslkey")
"""Parts of an address that nobody else is to read."""
HIDDEN = "***"


def url_of(place: str) -> URL:
    """Read an address.

    Raises:
        BookError: it is none; names what is wrong without repeating what may be secret.
    """
    try:
        return make_url(place)
    except (SQLAlchemyError, ValueError) as error:
        kind, _, rest = place.partition("://")
        port = rest.rsplit("@", 1)[-1].partition("/")[0].rpartition(":")[2]
        why = f"its port {port[:20]!r} is no number" if isinstance(error, ValueError) else "it cannot be read"
        raise BookError(
            f"The address of the book, {kind[:20]}://…, is none: {why}. It goes {kind[:20]}://user@host:5432/database."
        ) from None


DRIVERS = {"postgresql": "postgresql+psycopg"}
"""Where a URL names only the kind of database."""
NEAR = ("", "localhost", "127.0.0.1", "::1")


@dataclass(frozen=True, slots=True)
class ServerAddress:
    """Where a book on a server is: to connect by, and as it may be printed."""

    url: URL
    shown: str


def server_address(place: str) -> ServerAddress:
    """Read the address of a book on a server. Across a network the server shows a certificate that can be verified,
    where nothing else is said.

    Raises:
        BookError: no address of such a server, or one with a password in it: everybody on the machine could read that.
    """
    typed = url_of(place)
    url = typed.set(drivername=DRIVERS.get(typed.drivername, typed.drivername))
    if url.get_backend_name() != "postgresql":
        raise BookError(
            f"{shown(typed)}: a book is kept in a file (SQLite) or on a PostgreSQL server; give --book FILE or "
            f"postgresql://…."
        )
    if url.password is not None or any(key in url.query for key in ("password", "sslpassword")):
        raise BookError(
            f"{shown(typed)} has a password in it, which every user of this machine can read in the list of processes. "
            f"Leave it out: it belongs in ~/.pgpass (host:port:database:user:password, mode 0600), or use a service "
            f"file or a client certificate."
        )
    return ServerAddress(_verified(url), shown(typed))


def _verified(url: URL) -> URL:
    """With a certificate asked for across a network, unless it is said how."""
    host = url.host or str(url.query.get("host", ""))
    if host in NEAR or host.startswith("/") or "sslmode" in url.query or "service" in url.query:
        return url
    if os.environ.get("PGSSLMODE") or os.environ.get("PGSERVICE"):
        return url
    own = (Path.home() / ".postgresql" / "root.crt").exists() or "sslrootcert" in url.query
    asked = (
        {"sslmode": "verify-full"}
        if own or os.environ.get("PGSSLROOTCERT")
        else {"sslmode": "verify-full", "sslrootcert": "system"}
    )
    return url.update_query_dict(asked)


def shown(url: URL) -> str:
    """An address as it may be printed."""
    hidden = {key: HIDDEN if key in SECRET else value for key, value in url.query.items()}
    return url.set(query=hidden).render_as_string(hide_password=True).replace("%2A%2A%2A", HIDDEN)


def without_secrets(text: str, url: URL) -> str:
    """What a driver said, without the secrets of the address."""
    secrets = [url.password, *(url.query.get(key) for key in SECRET)]
    for secret in secrets:
        for one in (secret,) if isinstance(secret, str) else secret or ():
            text = text.replace(str(one), HIDDEN) if one else text
    return text
