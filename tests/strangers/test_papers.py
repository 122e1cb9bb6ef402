"""How right each starter is on papers it was not made on: figures are printed, and those set aside are judged."""

from __future__ import annotations

from concurrent.futures import ProcessPoolExecutor

import pytest

from tests.strangers.make_papers import make_all
from tests.strangers.papers import PAPERS
from zestpail.core.document_type import load_type, starters
from zestpail.core.evaluation.folder import evaluate_folder
from zestpail.core.evaluation.measure import Measure

LEAST, LEAST_OF_ALL = 0.8, 0.92
SECOND_GREY = 2
"""The second grey scan of each kind is read with ``--known-half`` alone, which saves a third of the time."""


@pytest.fixture(scope="module")
def measured(
    request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory, reading_pool: ProcessPoolExecutor
) -> dict[str, Measure]:
    folder = tmp_path_factory.mktemp("papers")
    make_all(folder, ("aside",))
    for truth in () if request.config.getoption("--known-half") else folder.rglob(f"*-{SECOND_GREY}.*.truth.json"):
        truth.unlink()
    return {key: evaluate_folder(folder / "aside" / key, load_type(key), pool=reading_pool) for key in PAPERS}


def test_every_starter_is_tried_on_papers_set_aside(
    measured: dict[str, Measure], capsys: pytest.CaptureFixture[str]
) -> None:
    with capsys.disabled():
        for key, measure in measured.items():
            total = measure.total
            print(f"\n  {key:<20} F1 {total.f1:.3f}, {total.right} of {total.there} values right", end="")
        print()
    assert {*measured, "supplier-invoice"} == set(starters())
    for key, measure in measured.items():
        assert measure.documents in (3, 4)
        assert measure.total.f1 >= LEAST, key
    right, there = (
        sum(count) for count in zip(*((m.total.right, m.total.there) for m in measured.values()), strict=True)
    )
    assert right >= LEAST_OF_ALL * there


def test_what_is_asked_of_a_paper_is_a_field_of_its_starter() -> None:
    for key, paper in PAPERS.items():
        asked = {slot.key for slot in paper.slots} | ({paper.letterhead} if paper.letterhead else set())
        assert asked <= set(load_type(key).names), key
