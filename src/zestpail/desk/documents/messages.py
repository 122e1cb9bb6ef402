"""Telling a person why something was not done."""

from zestpail.store import Busy, Unkeepable, Unreachable

__all__ = ["Busy", "Missing", "NotAllowed", "NotDone", "Outdated", "Unkeepable", "Unreachable"]


BUSY = "Somebody else is changing this at the same moment. Nothing was changed; try it again."
DATABASE_GONE = "The database does not answer at the moment. Nothing was changed; try it again in a little while."


class NotDone(Exception):
    """What was asked could not be done; ``str()`` is a plain sentence for the person who asked."""


class Outdated(NotDone):
    """Somebody else changed the document in the meantime."""


class Missing(NotDone):
    """There is no such thing."""


class NotAllowed(NotDone):
    """The person, or the program, may not do this."""
