"""How cards slide apart, on the script itself: for any wishes, none overlaps, none leaves, none moves without need."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from functools import partial
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from itertools import pairwise
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from selenium import webdriver

import zestpail.web

pytestmark = pytest.mark.browser
GAP = 4
STATIC = Path(zestpail.web.__file__).parent / "static"
cards = st.lists(st.tuples(st.integers(-300, 1200), st.integers(20, 120)), min_size=1, max_size=7)


@pytest.fixture(scope="module")
def page(browser: webdriver.Chrome) -> Iterator[webdriver.Chrome]:
    """A page of a server that has nothing but the scripts."""
    scripts = ThreadingHTTPServer(("127.0.0.1", 0), partial(SimpleHTTPRequestHandler, directory=str(STATIC)))
    threading.Thread(target=scripts.serve_forever, daemon=True).start()
    browser.get(f"http://127.0.0.1:{scripts.server_port}/pail.svg")
    yield browser
    scripts.shutdown()


def spread(page: webdriver.Chrome, wishes: list[tuple[int, int]], room: int) -> list[float]:
    found = page.execute_async_script(
        """const [wishes, room, done] = arguments;
        import("/js/page/margins.js").then(({ spread }) => {
          const cards = wishes.map(([wish, height]) => ({ wish, height }));
          const tops = spread(cards, room);
          done(cards.map((card) => tops.get(card)));
        });""",
        wishes, room,
    )  # fmt: skip
    return [float(top) for top in found]


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(cards)
def test_cards_slide_apart(page: webdriver.Chrome, wanted: list[tuple[int, int]]) -> None:
    wishes, room = sorted(wanted), 900
    tops = spread(page, wishes, room)
    placed = list(zip(tops, wishes, strict=True))
    for (above, (_, height)), (below, _) in pairwise(placed):
        assert below - (above + height) >= GAP - 0.01
    assert all(top >= -0.01 and top + height <= room + 0.01 for top, (_, height) in placed)


def test_cards_stay_where_they_wish_if_nothing_is_in_their_way(page: webdriver.Chrome) -> None:
    assert spread(page, [(10, 30), (100, 30), (400, 120)], 700) == [10, 100, 400]
    assert spread(page, [(100, 30), (100, 30)], 700) == [83, 117]
