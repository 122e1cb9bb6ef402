"""The fuel delivery note that the tests of document types set up, and its settings as a browser would send them."""

from __future__ import annotations

from pathlib import Path

from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.types import samples
from zestpail.desk.types.bench import fields
from zestpail.desk.types.bench.fields import At
from zestpail.desk.types.bench.rule_settings import settings_of
from zestpail.desk.types.bench.view import bench_view
from zestpail.desk.types.drafts import draft_type
from zestpail.store import Store

NOTES = Path(__file__).parents[2] / "demo" / "files" / "fuel-delivery-notes"
KEY = "fuel-delivery-note"


def at(store: Store, person: SignedIn, key: str = KEY) -> At:
    return At(key, bench_view(store, key, None, None).version, person.id)


def numbers(store: Store, sample_id: int, *texts: str) -> list[int]:
    with store.transaction() as session:
        document = samples.proof_samples(store, session, KEY)[sample_id - 1].document
    return [number for number, word in enumerate(document.pages[0].words) if word.text in texts]


def ticket(store: Store, person: SignedIn) -> str:
    pointed = fields.words_at(store, 1, 0, numbers(store, 1, "FD-45088"))
    return fields.add_field(store, at(store, person), pointed)


def rule_as_sent(store: Store, key: str, type_key: str = KEY) -> dict[str, list[str]]:
    """The settings of a field as its dialog sends them when nothing in it was touched."""
    doc_type = draft_type(store, type_key)
    settings = settings_of(doc_type, doc_type.field(key))
    sent = {name: _entries(value) for name, value in settings.form.model_dump().items()}
    for group in (*settings.finders, *settings.checks):
        if group.switch and group.on:
            sent[group.switch] = ["on"]
        for field in group.fields:
            for one in field.parts or (field,):
                sent[one.name] = _entries(one.value)
    return {name: values for name, values in sent.items() if values}


def _entries(value: object) -> list[str]:
    if isinstance(value, bool):
        return ["on"] if value else []
    if isinstance(value, list):
        return [str(one) for one in value]
    return ["" if value is None else str(value)]
