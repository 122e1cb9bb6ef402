"""The life of a document type on PostgreSQL: samples, edits taken back, revisions, files from elsewhere."""

from __future__ import annotations

import json

import pytest

from tests.desk.flow import drop, ids, read_all
from tests.desk.type_flow import KEY, at, numbers, rule_as_sent, ticket
from zestpail.core.finders.printed import expression
from zestpail.desk.documents.messages import Missing, NotDone, Outdated
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.quality.view import quality_of
from zestpail.desk.types import drafts, samples, starters
from zestpail.desk.types.bench import fields
from zestpail.desk.types.bench.proof import sheet
from zestpail.desk.types.bench.rule_settings import edited
from zestpail.desk.types.bench.view import bench_view
from zestpail.desk.types.comparison import compared
from zestpail.desk.types.samples import Label
from zestpail.store import Store
from zestpail.store.states import SampleState
from zestpail.store.tables import Document, Page, Sample


def test_samples_are_read_refused_and_removed_with_a_note(ready: Store, ines: SignedIn) -> None:
    view = bench_view(ready, KEY, None, None)
    assert [(s.name, s.state) for s in view.samples] == [
        ("fuel-note-06.pdf", "ready"), ("fuel-note-03.jpg", "ready"), ("letter.doc", "refused"),
    ]  # fmt: skip
    assert "neither a PDF nor a picture" in (view.samples[2].problem or "")
    with pytest.raises(Missing, match="no such document type"):
        samples.add_sample(ready, "no-such-type", "a.pdf", b"", ines.id)
    samples.set_role(ready, 2, "test")
    with pytest.raises(NotDone, match="training or for testing"):
        samples.set_role(ready, 2, "decoration")
    assert samples.remove_sample(ready, 1, ines.id) == KEY
    assert ids(ready, Page) == [2]
    with ready.transaction() as session:
        assert session.get_one(Sample, 2).state == SampleState.READY


def test_a_field_its_labels_and_an_offer_taken_back(ready: Store, ines: SignedIn) -> None:
    key = ticket(ready, ines)
    assert (key, bench_view(ready, KEY, 1, key).right) == ("ticket_no", 1)
    fields.say_right(ready, at(ready, ines), key, fields.words_at(ready, 2, 0, numbers(ready, 2, "FD-81660")))
    offered = fields.offers(ready, KEY, key, 2)
    assert [(o.message, o.mends, o.breaks) for o in offered[:1]] == [
        ("also look beside “Docket” and look below it too", 1, 0)
    ]
    old = at(ready, ines)
    fields.take_offer(ready, old, key, 2, 1)
    view = bench_view(ready, KEY, 2, key)
    assert (view.right, view.labelled, view.edit["fixed"], view.offers) == (2, 2, 1, [])
    assert [cell.turn for cell in view.strip] == ["fixed", "same"], "what changed comes first"
    with pytest.raises(Outdated, match="Somebody else has changed"):
        fields.remove_field(ready, old, key)
    with pytest.raises(NotDone, match="not offered any more"):
        fields.take_offer(ready, at(ready, ines), key, 2, 1)
    assert drafts.undo(ready, KEY) == "Ticket no: also look beside “Docket” and look below it too"
    assert bench_view(ready, KEY, 2, key).right == 1
    assert [drafts.undo(ready, KEY) for _ in range(2)] == ["Ticket no is FD-81660", "added the field Ticket no"]
    with pytest.raises(NotDone, match="nothing to undo"):
        drafts.undo(ready, KEY)
    assert sheet(ready, KEY).lines == [], "labels of a field that is gone do no harm"


def test_labels_by_hand_rightly_nothing_and_in_bulk(ready: Store, ines: SignedIn) -> None:
    key = ticket(ready, ines)
    fields.type_right(ready, at(ready, ines), 2, key, "")
    marks = {cell.sample: cell.outcome for cell in bench_view(ready, KEY, 2, key).strip}
    assert marks == {1: "right", 2: "absent"}
    fields.say_right(ready, at(ready, ines), key, fields.box_at(ready, 1, 0, view_box(ready)))
    samples.label(ready, 1, key, None)
    assert fields.confirm(ready, at(ready, ines), [(1, key), (2, key), (9, key), (1, "no_such_field")]) == 1
    samples.label(ready, 1, key, Label("FD-1"))
    assert bench_view(ready, KEY, 1, key).strip[0].wanted == "FD-1"
    date = fields.add_field(ready, at(ready, ines), fields.words_at(ready, 1, 0, numbers(ready, 1, "26.05.2026")))
    with pytest.raises(NotDone, match="“soon” is not a date"):
        fields.type_right(ready, at(ready, ines), 1, date, "soon")
    with pytest.raises(NotDone, match="nothing to read there"):
        fields.words_at(ready, 1, 0, [99999])


def view_box(store: Store) -> fields.Box:
    box = bench_view(store, KEY, 1, "ticket_no").fields[0].box
    assert box
    return box


def test_settings_that_cannot_be_end_in_a_sentence(
    ready: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch
) -> None:
    key = ticket(ready, ines)
    doc_type = drafts.draft_type(ready, KEY)
    form = rule_as_sent(ready, key)
    for wrong, message in (
        ({"name": [" "]}, "needs a name"),
        ({"beside_label.directions": []}, "without a direction"),
        ({"regex.expression": ["(a|b"]}, "not a valid pattern"),
        ({"regex.expression": [".*"]}, "fits an empty text"),
        ({"kind": ["guess"]}, "Not possible"),
        ({"beside_label.reach_mm": ["-1"]}, "greater than 0"),
        ({"under": ["L1"], "above": ["L1"]}, "both under and above"),
        ({"under": ["L7"]}, "landmarks that are not there"),
    ):
        with pytest.raises(NotDone, match=message):
            fields.set_rule(ready, at(ready, ines), key, form | wrong)
    monkeypatch.setattr(expression, "SECONDS", 1e-9)
    with pytest.raises(NotDone, match=r"takes too long on .* Nothing was changed"):
        fields.set_rule(ready, at(ready, ines), key, form | {"regex.expression": [r"(?:(?:a|aa)+)+c"]})
    monkeypatch.undo()
    assert drafts.draft_type(ready, KEY) == doc_type, "nothing was changed"
    fields.set_rule(ready, at(ready, ines), key, form | {"required.on": ["on"], "examples": ["FD-45088"]})
    message = "".join(piece.text for piece in bench_view(ready, KEY, 1, key).fields[0].sentence)
    assert message.startswith("Look right of “Ticket no”, up to 150 mm away. It is a code shaped like FD-45088, 8 long")
    assert message.endswith(", on any page, and required.")


def test_revisions_are_published_compared_brought_back_and_retired(ready: Store, ines: SignedIn) -> None:
    with pytest.raises(NotDone, match="without fields"):
        drafts.publish(ready, KEY, "", ines.id)
    key = ticket(ready, ines)
    assert drafts.publish(ready, KEY, "first", ines.id) == 1
    with pytest.raises(NotDone, match="Nothing has changed since revision 1"):
        drafts.publish(ready, KEY, "again", ines.id)
    fields.remove_field(ready, at(ready, ines), key)
    pair = compared(ready, KEY, 1, None)
    assert [(rule.name, rule.other) for rule in pair.rules] == [("Ticket no", "not there")]
    drafts.bring_back(ready, KEY, 1, ines.id)
    assert drafts.draft_type(ready, KEY).names == {"ticket_no": "Ticket no"}
    assert [(row.number, row.note, row.person) for row in drafts.revisions(ready, KEY)] == [(1, "first", "Ines Okafor")]
    drafts.retire(ready, KEY, ines.id)
    assert drafts.types(ready)[0].retired
    drafts.retire(ready, KEY, ines.id, back=True)
    assert drafts.find_type(ready, KEY).revision == 1
    with pytest.raises(Missing):
        drafts.revision(ready, KEY, 7)


@pytest.mark.parametrize(
    ("state", "against"), [("unlearned", ""), ("abc", ""), ("²", ""), ("007", ""), ("9", ""), ("draft", "-1")]
)
def test_figures_of_a_state_that_is_not_there_end_in_a_sentence(
    ready: Store, ines: SignedIn, state: str, against: str
) -> None:
    ticket(ready, ines)
    assert quality_of(ready, KEY, ()).fields[0].daily == (0, 0), "nothing was left as read where nothing was read"
    with pytest.raises(Missing, match="no such revision"):
        quality_of(ready, KEY, (), state, against)


def test_a_type_goes_elsewhere_as_a_file_and_wrong_files_end_in_a_sentence(ready: Store, ines: SignedIn) -> None:
    ticket(ready, ines)
    text = drafts.exported(ready, KEY)
    other = drafts.import_type(ready, text.encode(), ines.id)
    assert other == f"{KEY}-2"
    assert drafts.draft_type(ready, other).fields == drafts.draft_type(ready, KEY).fields
    body = json.loads(text)
    wrong = {
        b"%PDF-1.7": "no JSON file",
        b"[" * 5000: "no JSON file",
        b"{}": "at key",
        json.dumps({**body, "format": "something else"}).encode(): "at format",
        json.dumps({**body, "checks": [{"check": "required", "field": "nowhere"}]}).encode(): "not there: nowhere",
        text.replace('"beside_label"', '"by magic"').encode(): "at fields → 0 → finders → 0",
    }
    for data, message in wrong.items():
        with pytest.raises(NotDone, match=message):
            drafts.import_type(ready, data, ines.id)
    assert len(drafts.types(ready)) == 2


def test_rules_that_go_by_other_fields_hold_them_and_their_kinds(store: Store, ines: SignedIn) -> None:
    key = starters.adopt(store, "supplier-invoice", ines.id)
    invoice, now = drafts.draft_type(store, key), at(store, ines, key)
    with pytest.raises(NotDone, match="the rule of Due date goes by a field that is not there: issue_date"):
        fields.remove_field(store, now, "issue_date")
    form = rule_as_sent(store, "grand_total", key)
    with pytest.raises(NotDone, match="by the rule of Net, Total must be of the kind amount"):
        fields.set_rule(store, now, "grand_total", form | {"kind": ["code"]})
    assert drafts.draft_type(store, key) == invoice
    form = rule_as_sent(store, "due_date", key)
    assert edited(invoice, "due_date", form) == invoice, "an untouched form changes nothing"
    fields.set_rule(store, at(store, ines, key), "due_date", form | {"beside_label.reach_mm": ["99"]})
    (rule,) = [rule for rule in compared(store, key, 1, None).rules if rule.differs]
    assert ("up to 80 mm" in rule.one, "up to 99 mm" in rule.other) == (True, True)


def test_an_expression_that_comes_to_take_too_long_costs_its_own_field_only(
    ready: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch
) -> None:
    key = ticket(ready, ines)
    form = rule_as_sent(ready, key)
    fields.set_rule(ready, at(ready, ines), key, form | {"beside_label.labels": [""], "regex.expression": [r"FD-\d+"]})
    other = fields.add_field(ready, at(ready, ines), fields.words_at(ready, 1, 0, numbers(ready, 1, "26.05.2026")))
    monkeypatch.setattr(expression, "SECONDS", 1e-9)
    samples.document_of.cache_clear()  # read anew, and so proven anew
    cards = {card.key: card.shown for card in bench_view(ready, KEY, 1, key).fields}
    assert cards == {key: "", other: "2026-05-26"}


def test_a_starter_is_adopted_and_a_document_of_a_batch_becomes_a_sample(store: Store, ines: SignedIn) -> None:
    assert starters.adopt(store, "supplier-invoice", ines.id) == starters.adopt(store, "supplier-invoice", ines.id)
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    (document_id,) = ids(store, Document)
    sample = samples.add_from_batch(store, "supplier-invoice", document_id, ines.id)
    view = bench_view(store, "supplier-invoice", sample, "grand_total")
    assert next(card.shown for card in view.fields if card.key == "grand_total")
    assert len(starters.starter_rows(store)) >= 1
    with pytest.raises(Missing, match="no such starter"):
        starters.adopt(store, "no-such-starter", ines.id)
