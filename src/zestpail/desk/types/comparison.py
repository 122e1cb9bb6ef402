"""Two revisions of a type side by side: what their rules say, and what that does to the samples."""

from __future__ import annotations

from dataclasses import dataclass

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.document_type.sentences import sentence
from zestpail.core.evaluation.proof import Turn, prove, turns
from zestpail.core.tables import Table
from zestpail.desk.documents.stored_lists import lists_for
from zestpail.desk.types.bench.view import counted_right
from zestpail.desk.types.drafts import draft_type, revision
from zestpail.desk.types.samples import proof_samples
from zestpail.store import Store


@dataclass(frozen=True)
class Rule:
    """One field in both."""

    name: str
    one: str
    other: str
    differs: bool
    effect: dict[Turn, int]


@dataclass(frozen=True)
class Pair:
    one: str
    other: str
    rules: list[Rule]
    effect: dict[Turn, int]
    right: tuple[int, int]
    """How many labelled values are right, in the one and in the other."""
    labelled: int


def compared(store: Store, key_of_type: str, one: int | None, other: int | None) -> Pair:
    """Two revisions, or a revision and the draft (None). Raises Missing."""
    kinds = [
        revision(store, key_of_type, number) if number else draft_type(store, key_of_type) for number in (one, other)
    ]
    with store.transaction() as session:
        samples = proof_samples(store, session, key_of_type)
    before, after = (prove(kind, samples, lists_for(store, kinds)) for kind in kinds)
    names = {key: name for kind in kinds for key, name in kind.all_names.items() if "." not in key}
    rules = [
        Rule(
            name=name,
            one=_message(kinds[0], key),
            other=_message(kinds[1], key),
            differs=_rule(kinds[0], key) != _rule(kinds[1], key),
            effect=turns(before, after, key),
        )
        for key, name in names.items()
    ]
    (first, labelled), (second, labelled_after) = counted_right(before), counted_right(after)
    return Pair(
        one=f"revision {one}" if one else "the draft",
        other=f"revision {other}" if other else "the draft",
        rules=sorted(rules, key=lambda rule: not rule.differs),
        effect=turns(before, after),
        right=(first, second),
        labelled=max(labelled, labelled_after),
    )


def _rule(doc_type: DocumentType, key: str) -> tuple[FieldRule, bool] | Table | None:
    """All of the rule: a setting that the sentence does not name may differ too."""
    if key in doc_type.names:
        return doc_type.field(key), key in doc_type.required()
    return next((table for table in doc_type.tables if table.key == key), None)


def _message(doc_type: DocumentType, key: str) -> str:
    rule = _rule(doc_type, key)
    if rule is None:
        return "not there"
    return rule.sentence if isinstance(rule, Table) else sentence(*rule, doc_type.names)
