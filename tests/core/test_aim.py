"""Review set by its aim: the threshold that keeps so few delivered values wrong, and who is asked then."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from zestpail.core.evaluation.aim import LEAST_REVIEWED, Reviewed, reached


def reviewed(many: int, confidence: float, wrong: int = 0, first: int = 0) -> list[Reviewed]:
    return [Reviewed(first + at, confidence, at >= wrong) for at in range(many)]


def test_the_threshold_is_the_lowest_that_reaches_the_aim() -> None:
    values = [*reviewed(900, 0.95, 1), *reviewed(80, 0.7, 8, 900), *reviewed(20, 0.3, 15, 980)]
    strict, usual, lax = (reached(values, aim) for aim in (0, 5, 10))
    assert strict and usual and lax
    assert (strict.threshold, strict.values, strict.expected) == (0.96, 1.0, 0.0)
    assert (usual.threshold, usual.values, usual.expected, usual.guess) == (0.71, 0.1, 1.0, False)
    assert (lax.threshold, lax.values, lax.documents) == (0.31, 0.02, 0.02)
    assert reached([], 5) is None


def test_with_few_reviewed_values_confidence_is_taken_at_its_word_and_said_to_be_a_guess() -> None:
    values = [*reviewed(LEAST_REVIEWED - 1, 0.99), *(Reviewed(at, 0.8, None) for at in range(1000, 1201))]
    found = reached(values, 20)
    assert found and found.guess and found.threshold == 0.81


@given(st.lists(st.tuples(st.floats(0, 1), st.booleans()), min_size=1, max_size=300), st.floats(0, 100))
def test_what_is_expected_never_exceeds_the_aim_and_a_stricter_aim_asks_for_more(
    told: list[tuple[float, bool]], aim: float
) -> None:
    values = [Reviewed(at, confidence, right) for at, (confidence, right) in enumerate(told)]
    one, stricter = reached(values, aim), reached(values, aim / 2)
    assert one and stricter
    assert one.threshold <= stricter.threshold and one.values <= stricter.values
    assert one.expected <= aim or one.threshold == 1.0
