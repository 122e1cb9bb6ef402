"""The whole story on the real pages: from eight dropped scans to checked, delivered documents."""

from __future__ import annotations

import csv
import os
import shutil
import signal
from itertools import pairwise
from pathlib import Path

import pytest
from openpyxl import load_workbook
from selenium import webdriver
from selenium.webdriver.common.keys import Keys

from tests.bad_files import SENTENCES, write_bad_files
from tests.browser.conftest import Server, open_browser
from tests.browser.person import AtTheBrowser

pytestmark = pytest.mark.browser

DROPPED = (
    "bight-04.pdf", "hallig-02.pdf", "norrhavn-03.tif", "brevanne-01.pdf", "tarnwick-01.jpg", "dredgemoor-01.pdf",
    "bight-02.pdf", "norrhavn-01.pdf",
)  # fmt: skip


@pytest.fixture
def ines(browser: webdriver.Chrome, server: Server) -> AtTheBrowser:
    return AtTheBrowser(browser, server.address)


def test_1_signing_in(ines: AtTheBrowser) -> None:
    ines.open("/review")
    assert "/sign-in?next=/review" in ines.driver.current_url
    assert ines.axe() == []
    ines.sign_in("ines", "wrong")
    ines.says(".problem", "That name and password do not belong together.")
    ines.sign_in("ines")
    ines.says(".me a", "Ines Okafor")
    ines.says(".batches", "Nothing has arrived")
    assert ines.axe() == []
    assert [message for message in ines.complaints() if "401" not in message] == []


def test_2_eight_scans_are_dropped_and_read(ines: AtTheBrowser, demo: Path, server: Server) -> None:
    ines.type_at("input[type=file]", "\n".join(str(demo / name) for name in DROPPED))
    ines.until(lambda: ines.text(".progress") == "8 files kept", "all files kept")
    ines.until(lambda: "need you" in ines.text(".standing"), "a first doubt, shown without reloading")
    ines.until(lambda: "Reading now: nothing" in ines.text("#status"), "all pages read", 900)
    ines.until(lambda: "5 delivered" in ines.text(".standing"), "what is sure is delivered")
    ines.says(".standing", "3 need you")
    assert ines.axe() == []
    assert ines.complaints() == []
    ines.keys("?")
    ines.says("dialog[open]", "go to review")
    assert ines.axe() == []
    ines.keys(Keys.ESCAPE)
    ines.keys("r")
    ines.one("#cards")


def test_3_cards_stand_apart_and_their_leaders_follow(ines: AtTheBrowser) -> None:
    assert ines.text(".strip .quiet").startswith("bight-04.pdf")
    assert ines.active() == "tax_total", "the first doubt is at hand: the rows prove the net"
    box = ines.word("1,243.50")
    check_margins(ines)
    ines.wheel(ines.middle("1,243.50"), -240, ctrl=True)
    larger = ines.word("1,243.50")
    assert larger[2] - larger[0] > 1.5 * (box[2] - box[0])
    check_margins(ines)
    ines.wheel(ines.middle("1,243.50"), 60)
    assert ines.word("1,243.50")[1] == pytest.approx(larger[1] - 60, abs=1)
    check_margins(ines)
    ines.keys("0")
    assert ines.word("1,243.50") == pytest.approx(box, abs=1)
    ines.driver.set_window_size(1500, 900)
    ines.until(lambda: ines.word("1,243.50")[0] > box[0] + 50, "the page in the middle of a wider window")
    check_margins(ines)
    ines.driver.set_window_size(1280, 800)
    width, height = ines.driver.execute_script("return [innerWidth, innerHeight]")
    ines.driver.set_window_size(2 * 1280 - width, 2 * 800 - height)
    ines.until(lambda: ines.word("1,243.50") == pytest.approx(box, abs=1), "everything back in its place")
    assert ines.driver.execute_script("return document.documentElement.scrollHeight <= innerHeight")
    assert ines.axe() == []


def check_margins(person: AtTheBrowser) -> None:
    """No two cards overlap, and each leader ends at its value."""
    cards, ends = person.driver.execute_script(
        """const cards = [...document.querySelectorAll(".margin")].map((margin) =>
             [...margin.querySelectorAll(".card")].map((c) => c.getBoundingClientRect()).map((r) => [r.top, r.bottom]));
        const origin = document.getElementById("leaders").getBoundingClientRect();
        const ends = [...document.querySelectorAll("#leaders path")].map((path) => {
          const end = path.getPointAtLength(path.getTotalLength());
          const value = document.querySelector(`.values [data-key="${path.dataset.key}"]`).getBoundingClientRect();
          const paper = document.getElementById("paper").getBoundingClientRect();
          const seen = value.top > paper.top && value.bottom < paper.bottom &&
                       value.left > paper.left && value.right < paper.right;
          return [seen, end.x + origin.left, end.y + origin.top, value.left, value.top, value.right, value.bottom];
        });
        return [cards, ends];"""
    )
    for margin in cards:
        margin.sort()
        assert all(above[1] <= below[0] for above, below in pairwise(margin))
    assert ends
    for seen, x, y, left, top, right, bottom in ends:
        if seen:
            assert left - 6 <= x <= right + 6
            assert top - 14 <= y <= bottom + 3


def test_4_doubts_are_settled_by_keyboard_click_and_drag(ines: AtTheBrowser) -> None:
    message = ines.text("#card-grand_total .message")
    assert message == "Net + VAT is 1,492.20, total says 1,429.20 (63.00 less). Two figures look swapped."
    assert ines.active() == "tax_total"
    ines.keys(Keys.ENTER)
    ines.until(lambda: ines.active() == "grand_total", "the failed sum")
    ines.click(ines.middle("441.00"))
    ines.until(lambda: ines.value("grand_total") == "441.00", "the clicked word is the value")
    left, top, right, bottom = ines.word("1,429.20")
    ines.drag((left - 5, top - 4), (right + 5, bottom + 4))
    ines.until(lambda: ines.value("grand_total") == "1,429.20", "what stands in the box is the value")
    ines.says(".undo", "Undo: Total read from a drawn box")
    ines.keys(Keys.ESCAPE, Keys.ESCAPE)
    ines.ctrl("z")
    ines.until(lambda: ines.value("grand_total") == "441.00", "Esc undoes nothing, Ctrl+Z the last change")
    ines.ctrl("z")
    ines.until(lambda: ines.value("grand_total") == "1,429.20", "and the one before")
    ines.click(ines.middle("Tarpaulin"))
    ines.until(lambda: "“Tarpaulin” is not an amount" in ines.text("#toast"), "a plain sentence")
    ines.keys("e")
    ines.keys("a lot", Keys.TAB)
    ines.until(lambda: "“a lot” is not an amount" in ines.text("#toast"), "a plain sentence")
    assert ines.value("grand_total") == "a lot", "what was typed stands there until it is corrected"
    ines.ctrl(Keys.ENTER)
    ines.until(lambda: "“a lot” was not taken" in ines.text("#toast"), "and nothing is done before")
    ines.keys(Keys.ESCAPE)
    ines.until(lambda: ines.value("grand_total") == "1,429.20", "Esc puts back what was there")
    ines.press("#card-seller_name .line")
    ines.keys("e")
    ines.ctrl("a")
    ines.keys("Bight & Bollard Limited")
    ines.press("#card-grand_total .line")
    ines.until(lambda: "Undo: Supplier typed" in ines.text(".undo"), "what is left by a click is kept")
    assert (ines.value("seller_name"), ines.active()) == ("Bight & Bollard Limited", "grand_total")
    ines.ctrl("z")
    ines.until(lambda: ines.value("seller_name") == "Bight & Bollard Ltd", "undone")


def test_4b_a_failing_check_is_settled_and_the_document_done(ines: AtTheBrowser) -> None:
    ines.press("#card-grand_total .line")
    ines.ctrl(Keys.ENTER)
    ines.until(lambda: "A check still fails" in ines.text("#toast"), "not done while a check fails")
    assert ines.axe() == []
    ines.until(lambda: ines.active() == "grand_total", "the failing card at hand")
    ines.keys(Keys.ENTER)
    ines.until(lambda: "press 1 to keep it as printed" in ines.text("#toast"), "Enter says what is to be done")
    ines.keys("2")
    ines.until(lambda: ines.value("grand_total") == "1,492.20", "what the check offers")
    ines.until(lambda: "12 settled" in ines.text(".counts"), "all settled")
    ines.ctrl(Keys.ENTER)
    ines.until(lambda: ines.text(".strip .quiet").startswith("hallig-02.pdf"), "the next document")
    ines.says("#toast", "Take back to review")
    ines.press("#take-back button")
    ines.until(lambda: ines.text(".strip .quiet").startswith("bight-04.pdf"), "the document is back")
    ines.ctrl(Keys.ENTER)
    ines.until(lambda: ines.text(".strip .quiet").startswith("hallig-02.pdf"), "and done again")


def test_5_several_words_and_typing(ines: AtTheBrowser) -> None:
    assert ines.card_state("net_total") == "doubtful", "without it the sum is unproven"
    ines.press("#card-net_total .line")
    ines.until(lambda: ines.active() == "net_total", "the net at hand")
    ines.keys("e")
    ines.keys("4413,60", Keys.ENTER)
    ines.until(lambda: "12 settled" in ines.text(".counts"), "the sum proves the rest")
    ines.press("#card-seller_name .line")
    ines.click(ines.middle("Söhne"))
    ines.until(lambda: ines.value("seller_name") == "Söhne", "one word")
    ines.click(ines.middle("Hallig"), holding=Keys.CONTROL)
    ines.until(lambda: ines.value("seller_name") == "Hallig Söhne", "two words in reading order")
    ines.click(ines.middle("Hallig"))
    ines.until(lambda: ines.value("seller_name") == "Hallig", "one word again")
    ines.click(ines.middle("Kranservice"), holding=Keys.SHIFT)
    ines.until(lambda: ines.value("seller_name") == "Hallig & Söhne Kranservice", "all words between")
    ines.ctrl("z")
    ines.until(lambda: ines.value("seller_name") == "Hallig", "one step back")
    ines.keys("e")
    ines.keys("Hallig & Söhne Kranservice KG", Keys.ENTER)
    ines.until(lambda: ines.value("seller_name") == "Hallig & Söhne Kranservice KG", "typed")
    ines.ctrl(Keys.ENTER)
    ines.until(lambda: ines.text(".strip .quiet").startswith("norrhavn-03.tif"), "the next document")


def test_6_a_second_person_is_told_who_has_it(ines: AtTheBrowser, server: Server) -> None:
    driver = open_browser()
    try:
        tomas = AtTheBrowser(driver, server.address)
        tomas.sign_in("tomas")
        tomas.one("#lanes")
        tomas.driver.get(ines.driver.current_url)
        tomas.says(".held", "Ines Okafor has been working on this document since")
        assert tomas.one("#card-invoice_number input").get_attribute("readonly")
        assert tomas.axe() == []
        tomas.open("/review")
        tomas.says("h1", "Nothing to review")
        assert tomas.axe() == []
    finally:
        driver.quit()


def test_7_the_last_document_by_its_other_readings(ines: AtTheBrowser) -> None:
    ines.press("#card-issue_date .line")
    shown = ines.text("#card-issue_date [data-digit='1'] .mono")
    ines.keys("1")
    ines.until(lambda: ines.value("issue_date") == shown, "the other reading")
    ines.ctrl("z")
    ines.until(lambda: ines.value("issue_date") != shown, "undone")
    for _ in range(4):
        ines.settled_down()
        if "needs you" not in ines.text(".counts") and "need you" not in ines.text(".counts"):
            break
        version = ines.one("#cards").get_attribute("data-version")
        ines.keys(Keys.ENTER)
        ines.until(lambda: ines.one("#cards").get_attribute("data-version") != version, "a doubt accepted")  # noqa: B023
    ines.ctrl(Keys.ENTER)
    ines.until(lambda: ines.text("h1") == "Nothing to review", "the desk is empty")


def test_8_everything_is_delivered_with_receipts(ines: AtTheBrowser, server: Server) -> None:
    ines.open("/")
    ines.until(lambda: "8 delivered" in ines.text(".standing"), "all delivered")
    ines.press(".batches tbody a")
    ines.one("#contents")
    page = ines.text("#contents")
    assert page.count("Delivered as") == 8
    assert "hallig-02.pdf" in page
    assert "Total: 1429.20 → 1492.20" in page
    assert ines.axe() == []
    folder = server.delivered / "supplier-invoices"
    names = {path.name for path in folder.glob("*/*.pdf")}
    assert {"Bight & Bollard Ltd BB-20983.pdf", "Hallig & Söhne Kranservice KG 2026-0569.pdf"} <= names
    rows = list(csv.DictReader((folder / "supplier-invoices.csv").open(encoding="utf-8", newline="")))
    sheet = load_workbook(folder / "supplier-invoices.xlsx").worksheets[0]
    assert (len(names), len(rows), sheet.max_row) == (8, 8, 9)
    assert {row["Total"] for row in rows} >= {"1492.20", "5252.18"}
    ines.keys("/")
    ines.keys("BB-20983", Keys.ENTER)
    ines.until(lambda: ines.text("h1") == "1 document with “BB-20983”", "it is found")
    assert ines.axe() == []
    ines.press(".found a")
    ines.says(".room .strip", "bight-04.pdf · delivered")
    assert ines.complaints() == []


def test_8b_what_is_delivered_is_corrected_and_delivered_again(ines: AtTheBrowser, server: Server) -> None:
    ines.open("/batches/1")
    opened = document(ines, "bight-04.pdf")
    assert fetched(ines, f"{opened} .receipt a[target]") == (200, "application/pdf", "inline")
    assert fetched(ines, f"{opened} .receipt a[download]") == (200, "application/pdf", "attachment")
    assert fetched(ines, "a[href$='/sheet']")[0] == 200
    folder = server.delivered / "supplier-invoices"
    before = {path: path.read_bytes() for path in folder.glob("*/*.pdf")}
    ines.press(f"{opened} form[action$='/correct'] button")
    ines.until(lambda: ines.text(".strip .quiet").startswith("bight-04.pdf"), "the document is open again")
    ines.press("#card-invoice_number .line")
    ines.keys("e")
    ines.ctrl("a")
    ines.keys("BB-20983-A")
    ines.ctrl(Keys.ENTER)
    ines.until(lambda: ines.text("h1") == "Nothing to review", "done")
    ines.open("/batches/1")
    ines.until(lambda: "Version 2" in ines.text("#contents"), "the new version is there, the old one beside it")
    assert ines.text(document(ines, "bight-04.pdf")).count("Delivered as") == 2
    assert "BB-20983 → BB-20983-A" in ines.text(".trail")
    assert ines.axe() == []
    assert {path: path.read_bytes() for path in before} == before, "what went out before is kept as it was"
    assert len(list(folder.glob("*/*.pdf"))) == len(before) + 1
    rows = list(csv.DictReader((folder / "supplier-invoices.csv").open(encoding="utf-8", newline="")))
    numbers = [row["Invoice number"] for row in rows]
    assert (len(rows), numbers.count("BB-20983-A"), numbers.count("BB-20983")) == (8, 1, 0), "the row is replaced"


def document(ines: AtTheBrowser, file: str) -> str:
    """The selector of the batch's file of that name."""
    names = ines.until(lambda: [one.text for one in ines.all(".file h3")], "the files of the batch")
    return f".file:nth-of-type({[name.split()[0] for name in names].index(file) + 1})"


def fetched(ines: AtTheBrowser, link: str) -> tuple[int, str, str]:
    """What a link answers: state, kind, and whether it is shown or saved."""
    ines.one(link)
    status, kind, shown = ines.driver.execute_async_script(
        """const [css, done] = arguments;
        fetch(document.querySelector(css).href).then((a) =>
          done([a.status, a.headers.get("content-type"), a.headers.get("content-disposition").split(";")[0]]))""", link
    )  # fmt: skip
    return int(status), str(kind), str(shown)


def test_8c_what_was_is_found_by_words_numbers_and_batches(ines: AtTheBrowser) -> None:
    for words, file in (("tarpaulin", "bight-04.pdf"), ("1,492.20", "bight-04.pdf"), ("5252,18", "hallig-02.pdf")):
        ines.open("/")
        ines.keys("/")
        ines.keys(words, Keys.ENTER)
        ines.until(lambda: f"“{words}”" in ines.text("h1"), "the answer")  # noqa: B023
        assert file in [link.text for link in ines.all(".found li > a")], words
    ines.keys("/")
    ines.ctrl("a")
    ines.keys("batch 1", Keys.ENTER)
    ines.press("a.button[href='/batches/1']")
    ines.says("#contents", "batch 1")
    ines.open("/")
    ines.press("a[href='/batches']")
    ines.says("h1", "All batches")
    assert ines.axe() == []
    for choice, found in (("state", "review"), ("person", "nobody"), ("state", "delivered")):
        ines.press(f"select[name={choice}] option[value={found}]")
        ines.press(".control .button")
        ines.until(lambda: f"{choice}={found}" in ines.driver.current_url, "the answer")  # noqa: B023
        assert [link.text for link in ines.all(".batches td a")] == (["1"] if found == "delivered" else [])
        ines.open("/batches")


def test_8d_people_are_added_renamed_and_disabled(ines: AtTheBrowser, server: Server) -> None:
    ines.open("/")
    ines.press(".me a")
    ines.says("main", "Administrator: sees to people, tokens and destinations")
    assert ines.axe() == []
    ines.press("main a[href='/people']")
    ines.says("h1", "People")
    assert ines.axe() == []
    for name, words in (("name", "Jun Marlow"), ("login", "jun"), ("password", "a long one")):
        ines.type_at(f".control [name={name}]", words, *([Keys.ENTER] if name == "password" else []))
    ines.says(".batches", "jun")
    ines.type_at("[aria-label='Name of jun']", " Weir", Keys.ENTER)
    name = "[aria-label='Name of jun']"  # as the page came, not as it was typed
    ines.until(lambda: ines.one(name).get_dom_attribute("value") == "Jun Marlow Weir", "renamed")
    ines.type_at("[aria-label='New password of jun']", "another one", Keys.ENTER)
    driver = open_browser()
    try:
        jun = AtTheBrowser(driver, server.address)
        jun.sign_in("jun", "a long one")
        jun.says(".problem", "do not belong together")
        jun.sign_in("jun", "another one")
        jun.says(".me a", "Jun Marlow Weir")
        assert jun.text(".bar nav").split() == ["Today", "Review", "Archive"], "an operator"
        ines.press("tr:has([aria-label='Name of jun']) .roles input[value=author]")
        ines.press("tr:has([aria-label='Name of jun']) .roles button")
        ines.one("tr:has([aria-label='Name of jun']) .roles input[value=author][checked]")
        ines.press("tr:has(form[action$='/vessel-calls']) summary")
        ines.press("form[action$='/vessel-calls'] label:first-of-type input")
        ines.press("form[action$='/vessel-calls'] button")
        ines.says("section[aria-labelledby=limits]", "only Ines Okafor")
        assert ines.axe() == []
        jun.open("/")
        assert " ".join(jun.text(".bar nav").split()) == "Today Types Lanes Review Archive Quality"
        assert jun.all("#lane-supplier-invoices") and not jun.all("#lane-vessel-calls")
        ines.press("tr:has([aria-label='Name of jun']) form[action$='/disable'] button")
        ines.says(".batches", "disabled")
        jun.open("/batches")
        jun.one("#login")
        jun.sign_in("jun", "another one")
        jun.one(".problem")
    finally:
        driver.quit()
    assert ines.axe() == []


def test_9_bad_files_each_end_in_a_sentence(ines: AtTheBrowser, tmp_path: Path, demo: Path) -> None:
    ines.open("/")
    bad = write_bad_files(tmp_path)
    good = tmp_path / "..\x07 strange name.pdf"
    good.write_bytes((demo / "moewenbek-01.pdf").read_bytes())
    ines.type_at("input[type=file]", "\n".join(str(path) for path in [*bad, good]))
    ines.until(lambda: "7 not readable" in ines.text(".standing"), "the bad ones are named")
    ines.until(lambda: "1 delivered" in ines.text(".standing"), "the good one goes on")
    ines.press(".batches tbody a")
    page = ines.text("#contents")
    for sentence in SENTENCES.values():
        assert sentence in page
    assert "Traceback" not in page and "Möwenbek Schiffsbedarf GmbH" in page
    ines.open("/batches/77777")
    ines.says("main p", "There is no such batch.")
    assert ines.axe() == []


def test_10_a_page_that_lost_its_server_says_so_and_comes_back(ines: AtTheBrowser, server: Server, demo: Path) -> None:
    ines.open("/")
    ines.until(lambda: ines.one("body").get_dom_attribute("data-live") == "yes")
    lanes, before = len(ines.all(".lane")), len(ines.all(".batches tbody tr"))
    os.kill(server.process("web"), signal.SIGKILL)
    ines.says(".status .lost", "what is shown may be old")
    assert len(ines.all(".lane")) == lanes, "what was there stays in sight"
    shutil.copy(demo / "moewenbek-02.pdf", server.incoming / "supplier-invoices")
    ines.until(lambda: not ines.driver.find_element("css selector", ".status .lost").is_displayed(), "it is back")
    ines.until(lambda: len(ines.all(".batches tbody tr")) > before, "and asks what was missed")
