"""A fixed form on the bench: zones drawn once follow it, however copies and scanners moved, enlarged and turned it."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Server
from tests.browser.person import AtTheBrowser
from tests.browser.test_types import cells, on_sample

pytestmark = pytest.mark.browser

FORMS = Path(__file__).parents[2] / "demo" / "files" / "berth-applications"


@pytest.fixture
def ines(browser: webdriver.Chrome, shared_server: Server) -> AtTheBrowser:
    return AtTheBrowser(browser, shared_server.address)


def right(key: str) -> dict[str, str]:
    """The truth of every form of the demo for a field, by file."""
    beside = sorted(FORMS.glob("*.truth.json"))
    return {path.name.removesuffix(".truth.json"): json.loads(path.read_text())["fields"][key] for path in beside}


def zone(ines: AtTheBrowser, above: str, wide: float) -> str:
    """Draw a zone under the printed words of a box of the form; returns the new field's key."""
    (left, _, _, bottom), before = ines.word(above), ines.active()
    ines.keys("z")
    ines.drag((left - 4, bottom), (left + wide, bottom + 19))
    ines.until(lambda: ines.active() != before, f"a field for the zone under {above}")
    ines.says(".card.active .rule", "held to L1 and L2")
    return ines.active()


def found(ines: AtTheBrowser) -> dict[str, str]:
    """What the strip shows on each sample."""
    return {text.splitlines()[-1]: text for text in cells(ines)}


def test_1_zones_follow_shift_scale_and_skew(ines: AtTheBrowser) -> None:
    ines.open("/sign-in")
    if ines.driver.find_elements("css selector", "#login"):
        ines.sign_in("ines")
    ines.open("/types")
    ines.type_at("#name", "Berth application", Keys.ENTER)
    ines.until(lambda: "/types/berth-application" in ines.driver.current_url)
    files = sorted(str(path) for path in FORMS.iterdir() if path.suffix != ".json")
    ines.type_at(".samples input[type=file]", "\n".join(files))
    ines.until(lambda: "of 8:" in ines.text(".strip"), "eight forms read", 900)
    ines.open("/types/berth-application")  # the first one, not the one that was read first
    ines.until(lambda: ines.driver.find_elements("css selector", ".sheet[data-words]"), "the words of the page")
    ines.keys("f")
    ines.click(ines.middle(right("application_no")["berth-application-01.tif"]))
    ines.until(lambda: ines.driver.find_elements("css selector", "#card-application_no"), "a field beside its label")
    on_sample(ines, "berth-application-01.tif")
    for number, words in ((1, "Application"), (2, "Signature")):
        ines.keys("l")
        ines.click(ines.middle(words))
        ines.until(lambda: ines.driver.find_elements("css selector", f"#card-L{number}"), f"{words} as a landmark")  # noqa: B023
    wanted = right("vessel")
    zone(ines, "Name", 150)
    ines.until(lambda: len(found(ines)) == 8, "the strip of all samples")
    hits = sum(wanted[name].replace(" ", "") in text.replace(" ", "") for name, text in found(ines).items())
    assert hits >= 7, found(ines)
    key = zone(ines, "Arrival", 100)
    ines.says(f"#card-{key} .rule", "a date", "its kind is seen from what stands there")
    dates = right("arrival")
    assert sum(dates[name] in text for name, text in found(ines).items()) >= 7, found(ines)


def test_2_boxes_drawn_round_are_a_field_and_so_is_a_signature(ines: AtTheBrowser) -> None:
    def drawn_round(first: str, last: str, room: tuple[float, float, float]) -> dict[str, str]:
        """A field for what stands from one word to another, with so much room at the left, over and under it."""
        (left, top, _, _), (_, _, far, bottom), before = ines.word(first), ines.word(last), ines.active()
        ines.keys("f")
        ines.drag((left - room[0], top - room[1]), (far + 6, bottom + room[2]))
        ines.until(lambda: ines.active() != before, f"a field from {first} to {last}")
        ines.until(lambda: len(found(ines)) == 8, "the strip of all samples")
        return found(ines)

    classes = right("vessel_class")
    shown = drawn_round("fishing", "pleasure", (22, 3, 3))
    assert ines.active() == "class_of_vessel"
    assert all(classes[name] in text for name, text in shown.items()), shown
    ines.press("#card-class_of_vessel [data-setting='mark.options']")
    assert "cargo = cargo" in ines.one("#settings textarea[name='mark.options']").get_attribute("value")
    assert ines.axe() == []
    ines.press("#settings .button")
    shown = drawn_round("Signature", "Signature", (2, 2, 40))
    unsigned = {name for name, text in shown.items() if "not signed" in text}
    assert unsigned == {name for name, truth in right("signed").items() if truth == "no"}
    assert all("signed" in text for text in shown.values())


def test_3_a_starter_is_searched_for_tried_and_adopted_with_its_file(ines: AtTheBrowser) -> None:
    ines.open("/types")
    assert ines.axe() == []
    ines.type_at("#wanted", "date of birth")
    ines.until(lambda: len(ines.driver.find_elements("css selector", "#starters li")) == 1, "one starter is left")
    ines.press("#starters li .button")
    file = str(FORMS / "berth-application-07.pdf")
    ines.until(lambda: (ines.type_at("#tries input[type=file]", file), True)[1], "a file is chosen")
    ines.until(lambda: ines.driver.find_elements("css selector", ".tried-values"), "it is tried", 900)
    ines.says(".tried-values", right("application_no")["berth-application-07.pdf"])
    assert ines.axe() == []
    ines.press("#tries .shelf-head .button")
    ines.until(lambda: "sample 1 of 1" in ines.text(".strip"), "the file is the first sample")
    ines.says(".strip", "Application form")
