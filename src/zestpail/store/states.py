"""The states that files, pages, documents, samples, values and deliveries go through."""

from __future__ import annotations

from enum import StrEnum


class Role(StrEnum):
    """What somebody may do; a person has one of them or several."""

    OPERATOR = "operator"
    """Brings files in, reviews, works on batches."""
    AUTHOR = "author"
    """Sets up types and lanes, and tries them."""
    ADMINISTRATOR = "administrator"
    """Sees to people, tokens and destinations."""


class Scope(StrEnum):
    """What a program may do with its token."""

    SEND = "send"
    READ = "read"
    EXTRACT = "extract"
    SET_UP = "set up"


class FileState(StrEnum):
    """waiting → opened (→ split → opened) | refused."""

    WAITING = "waiting"
    OPENED = "opened"
    SPLIT = "split"
    """Split into documents, which go on when a person has looked at the splits."""
    REFUSED = "refused"


class PageState(StrEnum):
    """waiting → read | failed."""

    WAITING = "waiting"
    READ = "read"
    FAILED = "failed"


class DocumentState(StrEnum):
    """reading → review ⇄ settled → delivered; settled → stuck → settled; reading → unreadable.

    reading → sorting → reading: a person says what it is, or where it begins.
    reading | sorting | review ⇄ dissolved: all of its pages went to other documents.
    """

    READING = "reading"
    SORTING = "sorting"
    UNREADABLE = "unreadable"
    REVIEW = "review"
    SETTLED = "settled"
    DELIVERED = "delivered"
    STUCK = "stuck"
    DISSOLVED = "dissolved"


class SampleState(StrEnum):
    WAITING = "waiting"
    READY = "ready"
    REFUSED = "refused"


class SampleRole(StrEnum):
    TRAINING = "training"
    TEST = "test"


class ValueState(StrEnum):
    """doubtful ⇄ settled."""

    DOUBTFUL = "doubtful"
    SETTLED = "settled"


class DeliveryState(StrEnum):
    """waiting → sent | failed → waiting; any → recalled → waiting: what lies over there already is to be removed."""

    WAITING = "waiting"
    SENT = "sent"
    FAILED = "failed"
    RECALLED = "recalled"
