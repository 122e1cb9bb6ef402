"""Teaching by example at the bench: fields proposed on one sample, learning, and what it does to other samples."""

from __future__ import annotations

import json
import re
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
    ines.type_at("#name", name, Keys.ENTER)
    ines.one(".no-sample")
    place = str(ines.driver.current_url).removeprefix(ines.address)
    add(ines, *samples)
    return place


def add(ines: AtTheBrowser, *samples: Path) -> None:
    before = len(samples_on(ines))
    ines.type_at(".samples input[type=file]", "\n".join(map(str, samples)))
    ines.until(lambda: len(samples_on(ines)) == before + len(samples), f"{len(samples)} more samples read", 600)


def samples_on(ines: AtTheBrowser) -> list[str]:
    return ines.attribute("#margins", "data-samples").split()


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


QUESTIONS = {
    "Until when may the vessel lie there": "ends",
    "What is the yearly fee": "yearly_fee",
    "May the berth be sublet": "sublet",
}


def truth_of(name: str, key: str) -> str:
    return str(json.loads((LICENCES / f"{name}.truth.json").read_text())["fields"][key])


def at_hand(ines: AtTheBrowser) -> tuple[str, str] | None:
    """The sample and field that wait for a word of hers, as soon as one does; None where everything is labelled."""

    def there() -> tuple[str, str] | str | None:
        state = ines.one("#margins").get_dom_attribute
        if "Every value is labelled" in ines.one("#toast").text:
            return "done"
        return (state("data-sample"), state("data-active")) if state("data-open") and ines.all(READY) else None

    found = ines.until(there, "a value to be looked at")
    return None if found == "done" else found


READY = ".sheet[data-words]"


def say_what_is_right(ines: AtTheBrowser) -> int:
    """Look through what was found, value by value: right ones take one key, wrong ones are typed; how many were."""
    ines.keys("u")
    typed = 0
    while place := at_hand(ines):
        name, shown = (ines.text(f"#margins .card.active .{part}") for part in ("name", "value"))
        wanted = truth_of(ines.text(".strip .mono"), QUESTIONS[name])
        if wanted in (shown, re.sub(r"[^\d.]", "", shown)):
            ines.keys("y")
        else:
            typed += 1
            ines.keys("e")
            ines.type_at("#truth", wanted, Keys.ENTER)
        ines.until(lambda place=place: at_hand(ines) != place, f"the next after {name}")
    return typed


def test_2_questions_are_labelled_learned_and_measured(ines: AtTheBrowser) -> None:
    names = [*range(1, 4), *range(8, 13)]
    files = [next(LICENCES.glob(f"licence-{at:02d}.[pt]*[!n]")) for at in names]
    place = begin(ines, "Licence questions", *files)
    ines.keys("q")
    ines.type_at("#asking textarea", "\n".join(f"{question}?" for question in QUESTIONS))
    assert ines.axe() == []
    ines.press("#asking .button")
    ines.until(lambda: len(ines.all(CARDS)) == 3, "a field for each question")
    assert say_what_is_right(ines) <= 3
    ines.open(f"{place}/learning")
    assert "No labelled sample is kept for testing" in ines.text("main")
    for file in files[3:]:
        ines.press(f'[aria-label="Use {file.name} for testing"]')
    assert "same document" not in ines.text("main")
    assert ines.axe() == []
    ines.open(place)
    ines.until(lambda: ines.all(".sheet[data-words]"), "its words")
    ines.keys("n")
    ines.says("#toast", "Learning 1: 3 layouts known from 3 samples.")
    ines.open(place.replace("/types/", "/quality/"))
    assert ines.axe() == []
    figures = [row.text for row in ines.all(".figures tbody tr")]
    assert figures[0].startswith("Values right 15 of 15")
    assert figures[1].startswith("Documents entirely right 5 of 5 (57–100 %)")
    assert "without what was learned" in ines.text(".figures thead").lower()
    lines = [row.text for row in ines.all("section[aria-labelledby=by-field] tbody tr:first-child")]
    assert len(lines) == 3
    assert all("1.00 1.00 1.00" in line for line in lines)
    ines.open(place)
    add(ines, next(LICENCES.glob("licence-13.pdf")))
    go_to(ines, place, 9)
    assert values(ines)["May the berth be sublet"] == truth_of("licence-13.pdf", "sublet")
    assert ines.complaints() == []


def label(ines: AtTheBrowser, card: str, first: str, last: str) -> None:
    """Draw round the words from the first to the last: they are the value of the field."""
    ines.press(f"#card-{card} [data-act=focus]")
    ines.until(lambda: ines.all(f"#card-{card}.active"), f"{card} at hand")
    left, top, *_ = ines.word(first)
    *_, right, foot = ines.word(last)
    ines.drag((left - 2, top - 2), (right + 2, foot + 2))
    ines.until(
        lambda: ines.one(f"#card-{card} .mark").get_attribute("aria-label") != "not labelled", f"{card} labelled"
    )


def test_3_three_unlike_licences_teach_a_fourth(ines: AtTheBrowser) -> None:
    files = [next(LICENCES.glob(f"licence-{at:02d}.[pt]*[!n]")) for at in (1, 2, 3)]
    place = begin(ines, "Three licences", *files)
    wanted = ("Issued to", "Vessel", "Valid until", "Yearly fee", "Insurance certificate seen")
    for name in wanted:
        left = len(proposed(ines))
        ines.press(f'.proposal[aria-label="Proposed: {name}"] [data-act=choose]')
        ines.keys("k")
        ines.until(lambda left=left: len(proposed(ines)) == left - 1, f"{name} kept")
    ines.press("[data-act=throw-all]")
    ines.until(lambda: not proposed(ines), "the rest thrown away")
    ines.press("[data-act=propose]")
    go_to(ines, place, 2)
    label(ines, "issued_to", "Corvane", "Ltd")
    label(ines, "vessel", "Saltmarsh", "3")
    label(ines, "yearly_fee", "6,300.00", "6,300.00")
    ines.press("#card-valid_until [data-act=focus]")  # it goes on at the next line: it is typed
    ines.until(lambda: ines.all("#card-valid_until.active"), "the date at hand")
    ines.keys("e")
    ines.type_at("#truth", "12 November 2027", Keys.ENTER)
    ines.says("#margins .counts", "of 9 labelled values right")
    go_to(ines, place, 3)
    label(ines, "issued_to", "Tidewell", "Ltd")
    label(ines, "vessel", "Lady", "Corvane")
    label(ines, "valid_until", "03.06.2027", "03.06.2027")
    label(ines, "yearly_fee", "3,000.00", "3,000.00")
    ines.keys("n")
    ines.says("#toast", "Learning 1: 3 layouts known from 3 samples.")
    add(ines, next(LICENCES.glob("licence-08.pdf")))
    go_to(ines, place, 4)
    found = values(ines)
    assert (found["Vessel"], found["Valid until"], found["Yearly fee"]) == ("Ostrava Star", "2027-11-02", "4,390.00")
    assert found["Insurance certificate seen"] == "not ticked"
    label(ines, "issued_to", "Holm", "Ltd")
    ines.keys("n")
    ines.says("#toast", "Learning 2: 4 layouts known from 4 samples.")
    ines.says(".proof .said", "0 broken")
    ines.open(f"{place}/learning")
    assert [row.text.split()[0] for row in ines.all("main > table tbody tr:not(.fault)")] == ["2", "1"]
    ines.says("main > table tbody", " of ")
    ines.press('[aria-label="Use learning 1"]')
    ines.until(lambda: ines.all('[aria-label="Use learning 2"]'), "learning 1 in the draft")
    ines.press("main > table details summary")
    ines.press("main > table details .button")
    ines.until(lambda: len(ines.all("main > table tbody tr:not(.fault)")) == 1, "learning 2 removed")
    assert ines.axe() == []
    assert ines.complaints() == []


BOOKINGS = FILES / "crane-bookings"


def test_4_one_letter_teaches_others_in_other_languages(ines: AtTheBrowser) -> None:
    """A booking in Portuguese with its values as they should come out; others are English, German and French."""
    place = begin(ines, "Crane booking", BOOKINGS / "booking-05.eml")
    ines.press("[data-act=throw-all]")
    ines.until(lambda: not proposed(ines), "nothing is proposed of prose")
    for word, key in (("5/11?", "date"), ("14h.", "time_of_day")):
        ines.keys("f")
        ines.click(ines.middle(word))
        ines.until(lambda key=key: ines.all(f"#card-{key}"), word)
    ines.keys("n")
    ines.says("#toast", "Learning 1")
    assert list(values(ines).values()) == ["2026-11-05", "14:00"]
    add(ines, *(BOOKINGS / f"booking-{at:02d}.eml" for at in (2, 3, 4)))
    days = []
    for number in (2, 3, 4):
        go_to(ines, place, number)
        days.append([card.text.split("\n")[1] for card in ines.all(CARDS)])
    wanted = [json.loads((BOOKINGS / f"booking-{at:02d}.eml.truth.json").read_text())["fields"] for at in (2, 3, 4)]
    assert days == [[one["day"], one["end"]] for one in wanted]
    assert ines.complaints() == []


def review_a_slip(ines: AtTheBrowser) -> None:
    """Type the vessel, which was hardly legible in its boxes, and confirm the rest."""
    ines.until(lambda: ines.open("/review?lane=slips") or ines.all(".counts"), "a document to be reviewed", 300)
    name = ines.text(".strip .quiet").split(" ")[0]
    vessel = json.loads((SLIPS / f"{name}.truth.json").read_text())["fields"]["vessel"]
    ines.press("#card-vessel .line")
    ines.keys("e")
    ines.ctrl("a")
    ines.keys(vessel, Keys.ENTER)
    ines.until(lambda: ines.value("vessel") == vessel, "the vessel")
    for _ in range(4):
        ines.settled_down()
        if "need" not in ines.text(".counts"):
            break
        version = ines.one("#cards").get_attribute("data-version")
        ines.keys(Keys.ENTER)
        ines.until(lambda: ines.one("#cards").get_attribute("data-version") != version, "a doubt accepted")  # noqa: B023
    ines.ctrl(Keys.ENTER)
    ines.until(lambda: all(name not in shown.text for shown in ines.all(".strip .quiet")), "the next")


def test_5_what_is_reviewed_teaches_and_is_compared_before_it_is_published(ines: AtTheBrowser) -> None:
    """A lane of slips whose reviewed documents become samples by its own rule; the draft against the revision."""
    kind = "/types/inspection-slip"
    ines.open(f"{kind}/revisions")
    ines.press("#publish .button")
    ines.until(lambda: ines.all("main table tbody tr"), "revision 1 is published")
    ines.open("/lanes")
    ines.type_at(".control [name=name]", "Slips")
    ines.press(".control option[value=inspection-slip]")
    ines.press(".control .button")
    ines.press("[data-dialog=review]")
    for name in ("review_below", "review_others_below"):
        ines.type_at(f"#review [name={name}]", Keys.BACKSPACE * 3 + Keys.DELETE * 3 + "100")
    ines.press("#review option[value=always]")
    ines.press("#review .button")
    ines.says("main", "It becomes a sample of its type always.")
    ines.press("form[action$='/put-in-force'] .button")
    ines.says(".strip", "lane · active")
    ines.open("/")
    files = [SLIPS / name for name in ("inspection-slip-07.pdf", "inspection-slip-08.tif")]
    ines.type_at("[data-lane=slips] input[type=file]", "\n".join(map(str, files)))
    ines.says("#lane-slips", "2 files kept")
    ines.says("#lane-slips", "2 need you")
    for _ in files:
        review_a_slip(ines)
    ines.until(lambda: ines.open(f"{kind}/learning") or "inspection-slip-08.tif" in ines.text("main"), "the samples")
    ines.press("form[action$='/keep-apart'] .button")
    ines.says("main", "For testing only: 1")
    ines.open(kind)
    ines.until(lambda: ines.all(READY), "its words")
    ines.keys("n")
    ines.says("#toast", "Learning 2: 1 layout known")
    ines.open(f"{kind}/revisions")
    ines.says("#publish", "On 1 test sample the draft has")
    ines.says("#publish", "0 broken")
    ines.press("#publish .button")
    ines.until(lambda: len(ines.all("main table tbody tr")) == 2, "revision 2 is published")
    ines.press("[formaction$='/revisions/1/bring-back']")
    ines.says(".strip", "after revision 1")
    ines.open("/quality")
    ines.until(lambda: "is being counted" not in ines.text("main table"), "the share that is right on test samples")
    assert re.search(r"Inspection slip \d \d+ of \d+ ", ines.text("main table"))
    assert ines.axe() == []
    assert ines.complaints() == []
