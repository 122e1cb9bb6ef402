"""Mixed piles sorted without sheets, on the real pages: samples shown, binders cut, doubts decided with one key."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Server
from tests.browser.person import AtTheBrowser, at_work

pytestmark = pytest.mark.browser
FILES = Path(__file__).parents[2] / "demo" / "files"
BINDERS = FILES / "binders"
LANE = "/lanes/harbour-binders"
NAMES = {
    "cover-page": "Cover page",
    "incident-report": "Incident report",
    "survey-certificate": "Certificate of survey",
    "application-for-berth": "Application for a berth",
    "waste-receipt": "Waste delivery receipt",
    "insurance-letter": "Insurer’s confirmation",
}
TYPES = tuple(NAMES)


@pytest.fixture
def ines(browser: webdriver.Chrome, server: Server) -> AtTheBrowser:
    return at_work(browser, server.address, "/lanes")


def add_type(ines: AtTheBrowser, key: str) -> None:
    Select(ines.one("section.begin select[name=type]")).select_by_value(key)
    ines.press("section.begin form .button")
    ines.one(f"#type-{key}")


def drop_on(ines: AtTheBrowser, row: str, *files: Path) -> None:
    ines.type_at(f"#{row} input[type=file]", "\n".join(map(str, files)))


def cards(ines: AtTheBrowser, key: str) -> int:
    return len(ines.all(f"#row-{key} .sample-card .taken"))


def sent_in(ines: AtTheBrowser, *files: Path) -> str:
    """Drop files on the lane of binders and wait until all is read; returns the address of the batch."""
    ines.open("/")
    before = len(ines.driver.find_elements(By.CSS_SELECTOR, ".batches tbody tr"))
    ines.type_at("#lane-harbour-binders input[type=file]", "\n".join(map(str, files)))
    ines.until(lambda: len(ines.driver.find_elements(By.CSS_SELECTOR, ".batches tbody tr")) > before, "a batch")
    address = (ines.one(".batches tbody a").get_attribute("href") or "").removeprefix(ines.address)
    ines.until(lambda: "Waiting: 0 pages" in ines.text(".status"), "everything read")
    return address


def lying(ines: AtTheBrowser, batch: str) -> list[tuple[str, int]]:
    """The ribbon of a batch: by stretch its type and how many pages it has."""
    ines.open(f"{batch}/ribbon")
    ines.until(lambda: ines.all(".stretch") and "not split yet" not in ines.text("#stacks"), "the cuts")
    found: list[tuple[str, int]] = ines.driver.execute_script(
        "return [...document.querySelectorAll('.stretch')].map("
        "(one) => [one.innerText, one.querySelectorAll('.tile').length])"
    )
    return found


def test_1_teaching_by_showing(ines: AtTheBrowser) -> None:
    ines.open(f"{LANE}/sorting")
    for key in TYPES:
        add_type(ines, key)
        drop_on(ines, f"row-{key}", *sorted((BINDERS / "samples" / key).iterdir()))
        ines.until(lambda of=key: len(ines.all(f"#row-{of} .sample-card")) == 4, "all kept")  # type: ignore[misc]
    ines.until(lambda: all(cards(ines, key) == 4 for key in TYPES), "all samples told")
    ines.says(".summary", "24 of 24 samples would be sorted rightly")
    assert ines.axe() == []
    drop_on(ines, "row-waste-receipt", FILES / "berth-applications" / "berth-application-07.pdf")
    ines.says(".clashes", "In common:")
    ines.says(".clashes", "Application for a berth")
    ines.says(".summary", "24 of 25")
    ines.press(".sample-card.wrong button[formaction$='/move']")
    ines.says(".summary", "25 of 25")
    ines.says(".summary", "1 mended")
    ines.press("[data-dialog='cue-waste-receipt']")
    ines.type_at("#cue-waste-receipt textarea", "vessel")
    ines.press("#cue-waste-receipt .button")
    ines.says(".faults", "fits 4 of 4 samples of Incident report")
    ines.press(".strip form .plain")
    ines.until(lambda: not ines.all(".faults"), "the cue taken back")


def test_2_a_type_known_by_one_sentence_and_a_heap_confirmed_at_once(ines: AtTheBrowser) -> None:
    ines.open(f"{LANE}/sorting")
    add_type(ines, "supplier-invoice")
    ines.press("[data-dialog='description-supplier-invoice']")
    ines.type_at(
        "#description-supplier-invoice textarea", "an invoice that asks to pay for goods, with VAT and a total"
    )
    ines.press("#description-supplier-invoice .button")
    ines.says("#row-supplier-invoice", "an invoice that asks to pay")
    names = ("bight-01.tif", "tarnwick-03.pdf", "norrhavn-01.pdf", "ostersiel-01.pdf", "dredgemoor-01.pdf")
    drop_on(ines, "heap", *(FILES / "supplier-invoices" / name for name in names))
    ines.until(lambda: len(ines.all("#heap select")) == 5, "suggestions")
    told = [Select(one).first_selected_option.text for one in ines.all("#heap select")]
    assert told.count("Supplier invoice") >= 4, told
    for one in ines.all("#heap select"):
        Select(one).select_by_visible_text("Supplier invoice")
    for tick in ines.all("#heap input[type=checkbox]:not(:checked)"):
        tick.click()
    assert ines.axe() == []
    ines.press("#heap form .button")
    ines.until(lambda: cards(ines, "supplier-invoice") == 5, "samples")
    ines.press("[data-dialog='differs-supplier-invoice']")
    ines.press("#differs-supplier-invoice input[name=all_of_them]")
    ines.press("#differs-supplier-invoice input[value=invoices-from-binders]")
    ines.press("#differs-supplier-invoice .button")
    ines.one("#row-supplier-invoice")
    ines.press(".strip form[action$='put-in-force'] .button")
    ines.says(".sentences-of-lane", "Tell by its look what each document is")
    ines.says(".sentences-of-lane", "goes to invoices-from-binders")


def test_3_the_binder_is_cut_and_each_document_read_by_its_type(ines: AtTheBrowser, server: Server) -> None:
    ines.open(LANE)
    ines.type_at("#trial input[type=file]", str(BINDERS / "binder-01.tif"))
    ines.says("#trial", "10 documents")
    ines.says("#trial", "Certificate of survey")
    batch = sent_in(ines, BINDERS / "binder-01.tif")
    truth = json.loads((BINDERS / "binder-01.tif.truth.json").read_text())["documents"]
    found = lying(ines, batch)
    assert [pages for _, pages in found] == [len(one["pages"]) for one in truth]
    names = [NAMES[one["type"]] for one in truth]
    assert all(text.startswith(name) for (text, _), name in zip(found, names, strict=True)), found
    ines.until(lambda: list(server.delivered.glob("harbour-binders/**/Certificate of survey*.pdf")), "a delivery")


def test_4_invoices_go_their_own_way(ines: AtTheBrowser, server: Server) -> None:
    batch = sent_in(ines, BINDERS / "binder-02.tif")
    assert [pages for _, pages in lying(ines, batch)] == [1, 1, 2, 1, 1, 1]
    ines.until(lambda: list(server.delivered.glob("invoices-from-binders/**/*.pdf")), "an invoice delivered")
    assert not list(server.delivered.glob("harbour-binders/**/Supplier invoice*"))


def in_doubt(ines: AtTheBrowser, batch: str) -> str:
    """The address of the first document of the batch that is to be sorted; "" when there is none."""
    lying(ines, batch)
    found: str = ines.driver.execute_script(
        "return [...document.querySelectorAll('.stretch')].find((one) => one.innerText.includes('to be sorted'))"
        "?.querySelector('a')?.href ?? ''"
    )
    return found


def test_5_strangers_are_held_and_doubts_decided_with_one_key(ines: AtTheBrowser) -> None:
    batch = sent_in(ines, BINDERS / "binder-03.tif")
    ines.open("/review?lane=harbour-binders")
    ines.one(".question-place, .desk")
    asked = 0
    while address := in_doubt(ines, batch):
        ines.driver.get(address)
        ines.says(".question-place h1", "What is it?")
        if not asked:
            assert ines.axe() == []
        unlike = "like none of the types" in ines.text(".answers-to > p")
        ines.keys("0" if unlike else "1")
        ines.until(lambda at=address: ines.driver.current_url != at, "the next one")  # type: ignore[misc]
        asked += 1
    assert asked >= 2, "the poem and the drawing at least"
    left = [text for text, _ in lying(ines, batch)]
    assert any("left out" in text for text in left), left
    assert not any("to be sorted" in text for text in left), left


def test_6_words_alone(ines: AtTheBrowser) -> None:
    ines.open("/lanes")
    ines.type_at("main form input[name=name]", "By words")
    Select(ines.one("main form select[name=type]")).select_by_value("waste-receipt")
    ines.press("main form .button")
    ines.one(".sentences-of-lane")
    ines.open("/lanes/by-words/sorting")
    for key, words in (("waste-receipt", "waste"), ("insurance-letter", "insured"), ("incident-report", "incident")):
        add_type(ines, key)
        ines.press(f"[data-dialog='cue-{key}']")
        ines.type_at(f"#cue-{key} textarea", words)
        Select(ines.one(f"#cue-{key} select[name=weight]")).select_by_value("much")
        ines.press(f"#cue-{key} .button")
        ines.says(f"#row-{key}", f"says “{words}”")
    drop_on(ines, "row-waste-receipt", BINDERS / "samples" / "waste-receipt" / "waste-receipt-1.pdf")
    drop_on(ines, "row-incident-report", BINDERS / "samples" / "incident-report" / "incident-report-1.pdf")
    ines.until(lambda: len(ines.all(".sample-card img")) == 2, "both read")
    ines.press("[data-dialog='cue-incident-report']")
    ines.type_at("#cue-incident-report textarea", "received")
    ines.press("#cue-incident-report .button")
    ines.says(".faults", "fits none of its own samples")


def test_7_how_right_it_is_beside_what_is_active(ines: AtTheBrowser) -> None:
    ines.open(f"{LANE}/sorting/measure")
    tests = {
        "supplier-invoice": FILES / "supplier-invoices" / "brevanne-01.pdf",
        "unknown": FILES / "hull-surveys" / "hull-survey-01.pdf",
    }
    for key, file in tests.items():
        before = len(ines.all("#content tbody tr"))
        ines.type_at(f"div[data-to$='tests/{key}'] input[type=file]", str(file))
        ines.until(lambda many=before: len(ines.all("#content tbody tr")) > many, "a test sample")  # type: ignore[misc]
    ines.until(lambda: (ines.open(f"{LANE}/sorting/measure"), "being read" not in ines.text("main"))[1], "tests read")
    ines.says("main", "As it is active")
    ines.says("main", "Supplier invoice")
    assert ines.axe() == []
