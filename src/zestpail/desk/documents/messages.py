"""Telling a person why something was not done."""

from zestpail.store import Unkeepable

__all__ = ["Missing", "NotAllowed", "NotDone", "Outdated", "Unkeepable"]


class NotDone(Exception):
    """What was asked could not be done; ``str()`` is a plain sentence for the person who asked."""


class Outdated(NotDone):
    """Somebody else changed the document in the meantime."""


class Missing(NotDone):
    """There is no such thing."""


class NotAllowed(NotDone):
    """The person, or the program, may not do this."""
