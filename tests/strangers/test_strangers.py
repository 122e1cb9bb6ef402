"""How right the reading is on invoices never seen: figures are printed, and judged on the half set aside.

Of each layout one invoice is scanned, which saves half of the time. With ``--known-half`` all are, and those of the
half that rules were made on too: these are for printing alone.
"""

from __future__ import annotations

from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import pytest

from tests.strangers.make import make_all
from zestpail.core.document_type import load_type
from zestpail.core.evaluation.folder import evaluate_folder
from zestpail.core.evaluation.measure import Measure, Tally, report, wilson
from zestpail.core.kinds.equality import same

SCANNED = ("grey", "poor")
LEAST = {"born": 0.97, "grey": 0.95, "poor": 0.88}
SURE, SURE_RIGHT = 0.95, 0.97


@pytest.fixture(scope="module")
def measured(
    request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory, reading_pool: ProcessPoolExecutor
) -> dict[str, Measure]:
    folder = tmp_path_factory.mktemp("strangers")
    everything = bool(request.config.getoption("--known-half"))
    halves = ("known", "aside") if everything else ("aside",)
    make_all(folder, halves, few_scans=not everything)
    doc_type = load_type("supplier-invoice")
    return {
        f"{half} {form}": evaluate_folder(folder / half / form, doc_type, pool=reading_pool)
        for half in halves
        for form in LEAST
    }


def test_on_templates_set_aside(measured: dict[str, Measure], capsys: pytest.CaptureFixture[str]) -> None:
    with capsys.disabled():
        for name, measure in measured.items():
            print(f"\n{name}\n{report(measure, misses=False)}")
    for form, least in LEAST.items():
        measure = measured[f"aside {form}"]
        assert measure.documents in (30, 10) and (form in SCANNED or measure.documents == 30)
        assert measure.total.f1 >= least, form
        message, right = measure.sure(SURE)
        assert message >= 0.5 * len(measure.message), "confidence that is never reached is worth nothing"
        assert right >= SURE_RIGHT * message, form


def test_a_measure_on_a_small_example() -> None:
    measure = Measure()
    measure.add("a", {"x": ("1", 0.99), "y": ("2", 0.6)}, {"x": "1", "y": "3", "z": None}, {"y": ["4", "3"]})
    measure.add("b", {"x": (None, 0.0), "z": ("7", 0.97)}, {"x": "1", "z": None})
    assert measure.fields["x"] == Tally(right=1, found=1, there=2)
    assert (measure.fields["x"].precision, measure.fields["x"].recall) == (1.0, 0.5)
    assert measure.total == Tally(right=1, found=3, there=3, not_chosen=1)
    assert (measure.documents, measure.entirely_right) == (2, 0)
    assert [(m.document, m.key, m.found) for m in measure.misses] == [
        ("a", "y", "2"),
        ("b", "x", None),
        ("b", "z", "7"),
    ]
    assert measure.sure(0.95) == (2, 1)
    assert [row[2:] for row in measure.reliability() if row[2]] == [(1, 0), (1, 0), (1, 1)]
    assert wilson(9, 10) == (pytest.approx(0.596, abs=0.001), pytest.approx(0.982, abs=0.001))
    assert same("Bight  & Bollard LTD", "bight & bollard ltd")
    assert same("1", "1.0000") and same("-2.50", "-2.5")
    assert not same("007", "7") and not same("1.5", "15") and not same(None, "0.00")


def test_truth_that_is_none_is_said_so(tmp_path: Path) -> None:
    from zestpail.core.problems import Unreadable

    with pytest.raises(Unreadable, match="no file with its truth"):
        evaluate_folder(tmp_path, load_type("supplier-invoice"))
    (tmp_path / "a.pdf").write_bytes(b"")
    (tmp_path / "a.pdf.truth.json").write_text("[]")
    with pytest.raises(Unreadable, match="holds no truth"):
        evaluate_folder(tmp_path, load_type("supplier-invoice"))
