"""Hostile input from a seed, over everything that takes something from outside: told in a sentence, or taken, and soon.

In CI a few examples of each; ``./zestpail test tests/hostile/test_fuzz.py --fuzz-minutes 10`` goes on with new seeds.
"""

from __future__ import annotations

import itertools
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import hypothesis
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.desk.flow import LANE
from tests.hostile import odd
from zestpail.core.checks import formula
from zestpail.core.document_type import DocumentType
from zestpail.core.problems import Unreadable
from zestpail.core.reading.limits import Limits
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.unpacking import unpacked_files
from zestpail.core.writing.file_names import AnyPart, CounterPart, DatePart, FieldPart, Naming, TextPart, compose
from zestpail.delivery.folder import FolderFiles
from zestpail.desk.documents.messages import NotDone, Unkeepable
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.lanes.letter import change_letter, letter_view
from zestpail.desk.lanes.letter_form import LetterForm
from zestpail.desk.types.drafts import read_import
from zestpail.intake.arrived import Arrived
from zestpail.intake.mail import _Receiver
from zestpail.store import Store

SEEDS = (17, 4711)
"""Of the run in CI; one that found something is added."""
LONGEST = 10.0
"""Seconds of the processor that any one thing may take."""
FEW = Limits(max_bytes=2_000_000, max_pages=40, max_side=4_000, max_pixels=8_000_000)


def opened(data: bytes) -> None:
    try:
        for page in range(min(count_pages(data, FEW), 3)):
            open_page(data, page, FEW)
    except Unreadable as told:
        assert sentence(str(told))


def unpacked(data: bytes) -> None:
    try:
        package = unpacked_files(data, FEW)
    except Unreadable as told:
        assert sentence(str(told))
        return
    for packed in package.files if package else []:
        assert len(packed.data) <= FEW.max_bytes


def received(data: bytes) -> None:
    kept: list[Arrived] = []
    _Receiver(lambda _: True, kept.append)._keep_for(LANE, data)
    assert [one.data for one in kept] == [data] and kept[0].name.endswith(".eml")
    unpacked(data)


def worked_out(text: str, values: dict[str, str | None]) -> None:
    try:
        tree = formula.parsed(text)
        formula.worked_out(tree, values, {"lines": [values, {}]})
    except (formula.NotAFormula, formula.Lacking) as told:
        assert isinstance(told, formula.Lacking) or sentence(str(told))


def named(parts: list[AnyPart], folder: list[AnyPart], values: dict[str, str | None]) -> None:
    path = compose(Naming(folders=(tuple(folder),), file=tuple(parts)), values, 7, "pdf")
    assert len(path.parts) == 2 and not path.is_absolute() and ".." not in path.parts
    assert all(len(part.encode()) <= 255 and part.isprintable() for part in path.parts)
    FolderFiles(Path("/nowhere"), Path("/nowhere/locks"))._inside(path)


def imported(data: bytes) -> None:
    try:
        taken = read_import(data)
    except NotDone as told:
        assert sentence(str(told))
    else:
        assert DocumentType.model_validate_json(taken.model_dump_json()) == taken


def sentence(told: str) -> bool:
    return (told[:1].isupper() or told[:1] == "“") and not any(
        word in told for word in ("Traceback", "Error(", "<class", "object at")
    )


PARTS = st.lists(
    st.builds(TextPart, text=odd.TEXT) | st.builds(FieldPart, key=st.sampled_from(("net", "total")), instead=odd.TEXT)
    | st.builds(DatePart, key=st.just("net"), pattern=odd.TEXT, instead=odd.TEXT) | st.builds(CounterPart),
    min_size=1, max_size=4,
)  # fmt: skip
TARGETS: dict[str, tuple[Callable[..., None], tuple[st.SearchStrategy[Any], ...]]] = {
    "intake": (opened, (odd.any_file(),)),
    "e-mail": (received, (odd.mail(),)),
    "zip": (unpacked, (odd.package(),)),
    "formula": (worked_out, (odd.FORMULA, odd.VALUES)),
    "naming": (named, (PARTS, PARTS, odd.VALUES)),
    "import": (imported, (odd.type_file(),)),
}


def fuzzed(request: pytest.FixtureRequest, target: Callable[..., None], given_by: tuple[Any, ...], few: int) -> None:
    """Run the target with what the seeds make of the strategies, and then, if it is asked for, with others."""

    def soon(made: tuple[Any, ...]) -> None:
        began = time.process_time()
        target(*made)
        assert time.process_time() - began < LONGEST

    minutes = float(request.config.getoption("--fuzz-minutes"))
    until = time.monotonic() + minutes * 60 / (len(TARGETS) + 1)
    seeds = itertools.chain(SEEDS, itertools.count(time.time_ns()) if minutes else ())
    ran = 0
    for seed in seeds:
        shown = settings(
            max_examples=few, database=None, deadline=None, suppress_health_check=list(HealthCheck), print_blob=True
        )
        hypothesis.seed(seed)(shown(given(st.tuples(*given_by))(soon)))()
        ran += few
        if minutes and time.monotonic() > until:
            break
    print(f"{request.node.name}: about {ran} examples")


@pytest.mark.filterwarnings("ignore:Duplicate name")
@pytest.mark.parametrize("name", TARGETS)
def test_whatever_comes_is_taken_or_told(request: pytest.FixtureRequest, name: str) -> None:
    target, given_by = TARGETS[name]
    fuzzed(request, target, given_by, 100)


def test_whatever_is_entered_in_a_letter_is_taken_or_told(
    request: pytest.FixtureRequest, store: Store, ines: SignedIn, tmp_path: Path
) -> None:
    names = sorted(LetterForm.model_fields)
    entry = odd.TEXT | odd.NUMBERS | st.lists(odd.TEXT, max_size=3)
    entries = st.dictionaries(st.sampled_from(names), entry, max_size=6)
    parts = st.sampled_from(("arrival", "separation", "type", "reading", "review", "delivery", "pages", "nowhere"))

    def entered(part: str, form: dict[str, Any]) -> None:
        try:
            change_letter(store, LANE, part, LetterForm.model_validate(form), replace(ines), (tmp_path,))
        except (NotDone, ValidationError, Unkeepable) as told:
            assert not isinstance(told, NotDone) or sentence(str(told))
        letter_view(store, LANE)

    fuzzed(request, entered, (parts, entries), 60)
