"""Where a book on a server is: read from what was typed, and shown without any secret."""

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
