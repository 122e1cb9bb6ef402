"""Teaching by example at the bench: fields proposed on one sample, learning, and what it does to other samples."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Server
from tests.browser.person import AtTheBrowser

pytestmark = pytest.mark.browser

FILES = Path(__file__).parents[2] / "demo" / "files"
SLIPS = FILES / "mooring-inspection-slips"
LICENCES = FILES / "mooring-licences"


@pytest.fixture
def ines(browser: webdriver.Chrome, shared_server: Server) -> AtTheBrowser:
    return AtTheBrowser(browser, shared_server.address)


def begin(ines: AtTheBrowser, name: str, *samples: Path) -> str:
    """A new type with these samples; returns where its bench is."""
    ines.open("/sign-in")
    if ines.all("#login"):
        ines.sign_in("ines")
    ines.complaints()
    ines.open("/types")
    ines.one("#name").send_keys(name, Keys.ENTER)
    ines.one(".no-sample")
    place = str(ines.driver.current_url).removeprefix(ines.address)
    add(ines, *samples)
    return place


def add(ines: AtTheBrowser, *samples: Path) -> None:
    before = len(samples_on(ines))
    ines.one(".samples input[type=file]").send_keys("\n".join(map(str, samples)))
    ines.until(lambda: len(samples_on(ines)) == before + len(samples), f"{len(samples)} more samples read", 600)


def samples_on(ines: AtTheBrowser) -> list[str]:
    return str(ines.one("#margins").get_attribute("data-samples")).split()


def go_to(ines: AtTheBrowser, place: str, number: int) -> None:
    """The sample of that number, from 1, on the bench."""
    ines.open(f"{place}?sample={samples_on(ines)[number - 1]}")
    ines.until(lambda: f"sample {number} of" in ines.text(".strip"), f"sample {number} on the bench")
    ines.until(lambda: ines.all(".sheet[data-words]"), "its words")


def values(ines: AtTheBrowser) -> dict[str, str]:
    cards = ines.until(lambda: [(c.get_attribute("aria-label"), c.text.split("\n")) for c in ines.all(CARDS)])
    return {name: lines[1] for name, lines in cards}


CARDS = "#margins .margin.right .card:not(.proposal)"


def proposed(ines: AtTheBrowser) -> list[str]:
    return [card.text.split("\n")[0] for card in ines.all(".proposal")]


def test_1_a_new_kind_of_paper_from_one_sample(ines: AtTheBrowser) -> None:
    """Everything on it is proposed; four are kept and the rest thrown away with a key each, and the next is read."""
    place = begin(ines, "Inspection slip", SLIPS / "inspection-slip-01.pdf")
    ines.until(lambda: len(proposed(ines)) == 12, "all pairs, boxes, the signature and the table")
    assert ines.axe() == []
    wanted = {"Slip no": "MI-77934", "Vessel": "BRINE PETREL", "Buoy no": "959", "Mooring was lifted": "ticked"}
    for left in range(11, -1, -1):
        name = ines.until(lambda: ines.one(".proposal.chosen").text.split("\n")[0])
        ines.keys("k" if name in wanted else "x")
        ines.until(lambda left=left: len(proposed(ines)) == left, f"{name} kept or thrown away")
    assert values(ines) == wanted
    ines.says(".proposed", "Show 8 again")
    ines.keys("n")
    ines.says("#toast", "Learning 1: 1 layout known from 1 sample.")
    add(ines, SLIPS / "inspection-slip-02.tif", SLIPS / "inspection-slip-04.tif")
    go_to(ines, place, 2)
    assert values(ines) == {
        "Slip no": "MI-10716",
        "Vessel": "SALTMARSH 3",
        "Buoy no": "931",
        "Mooring was lifted": "ticked",
    }
    go_to(ines, place, 3)
    assert values(ines)["Vessel"] == "HOLM TRADER"
    assert values(ines)["Mooring was lifted"] == "not ticked"
    assert ines.axe() == []
    assert ines.complaints() == []
