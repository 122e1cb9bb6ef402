"""Searching reference lists: by tokens, by likeness of names (trigrams), by what stands in a column."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Any

from sqlalchemy import bindparam, text
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.types import String
from sqlmodel import Session, col, func, select

from zestpail.store.reference_tables import KnownList, ListAlias, ListRow

LEAST_ALIKE, LEAST_MEANT = 0.5, 0.3
"""Likeness of two names by their trigrams (pg_trgm), in [0, 1], under which they are not looked at: of what a paper
says, which is asked often, and of what a person types, who may type one word of several."""
_LIKE = text(
    "SELECT DISTINCT ON (found.key) found.key, found.alike FROM unnest(:texts) AS wanted(name) CROSS JOIN LATERAL ("
    " SELECT key, similarity(names, wanted.name) AS alike FROM list_row"
    " WHERE list_id = :list AND until IS NULL AND names % wanted.name"
    " ORDER BY similarity(names, wanted.name) DESC LIMIT :most"
    ") AS found ORDER BY found.key, found.alike DESC"
).bindparams(bindparam("texts", type_=ARRAY(String)))
Stored = tuple[str, Mapping[str, Any]]
"""What identifies an entry, and its row."""


def list_named(session: Session, key: str) -> KnownList | None:
    return session.exec(select(KnownList).where(KnownList.key == key)).first()


def entries_of(session: Session, list_id: int, keys: Collection[str]) -> list[Stored]:
    """The rows of these entries that hold now."""
    held = select(ListRow.key, ListRow.values).where(
        ListRow.list_id == list_id, col(ListRow.until).is_(None), col(ListRow.key).in_(keys)
    )
    return [(key, values) for key, values in session.exec(held)]


def entries_with(session: Session, list_id: int, tokens: Collection[str]) -> list[Stored]:
    """The rows of entries that have one of the tokens, by the list or by what people told besides."""
    if not tokens:
        return []
    held = select(ListRow.key, ListRow.values).where(
        ListRow.list_id == list_id,
        col(ListRow.until).is_(None),
        col(ListRow.tokens).overlap(sorted(tokens)),  # type: ignore[attr-defined]
    )
    found = dict(session.exec(held).all())
    told = select(ListAlias.key).where(ListAlias.list_id == list_id, col(ListAlias.token).in_(tokens))
    besides = [key for key in session.exec(told) if key not in found]
    return [*found.items(), *(entries_of(session, list_id, besides) if besides else [])]


def entries_named_like(
    session: Session, list_id: int, texts: Sequence[str], most: int, least: float = LEAST_ALIKE
) -> list[str]:
    """What identifies the entries whose names are most like one of the texts, the likest first."""
    session.execute(text(f"SET LOCAL pg_trgm.similarity_threshold = {float(least)}"))
    found = session.execute(_LIKE, {"texts": list(texts), "list": list_id, "most": most}).all()
    return [key for key, _ in sorted(found, key=lambda one: -one[1])[:most]]


def entries_having(session: Session, list_id: int, column: str, bare: str, most: int = 20) -> list[Stored]:
    """The rows in whose column the same letters and figures stand."""
    there = func.upper(func.regexp_replace(col(ListRow.values)[column].astext, r"[\W_]", "", "g"))
    held = select(ListRow.key, ListRow.values).where(
        ListRow.list_id == list_id, col(ListRow.until).is_(None), there == bare
    )
    return [(key, values) for key, values in session.exec(held.order_by(col(ListRow.position)).limit(most))]


def aliases_of(session: Session, list_id: int, keys: Collection[str]) -> dict[str, list[ListAlias]]:
    """By entry, what people told to be its own besides."""
    held = (
        select(ListAlias).where(ListAlias.list_id == list_id, col(ListAlias.key).in_(keys)).order_by(col(ListAlias.id))
    )
    found: dict[str, list[ListAlias]] = {}
    for alias in session.exec(held):
        found.setdefault(alias.key, []).append(alias)
    return found
