"""Tables on the real pages: drawn at the bench, mended on the review desk, delivered; and text under headings."""

from __future__ import annotations

import csv
import json
from pathlib import Path

import pytest
from openpyxl import load_workbook
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Server
from tests.browser.person import AtTheBrowser, at_work

pytestmark = pytest.mark.browser

FILES = Path(__file__).parents[2] / "demo" / "files"
STATEMENT = FILES / "supplier-statements" / "statement-tarnwick-01.tif"


@pytest.fixture
def ines(browser: webdriver.Chrome, shared_server: Server) -> AtTheBrowser:
    return at_work(browser, shared_server.address, "/types")


def truth(file: Path, table: str) -> list[dict[str, str | None]]:
    details = json.loads(file.with_name(file.name + ".truth.json").read_text())
    rows: list[dict[str, str | None]] = details["tables"][table]
    return rows


def begin(ines: AtTheBrowser, name: str, *files: Path) -> None:
    """A new type with these samples, all of them read."""
    ines.type_at("#name", name, Keys.ENTER)
    ines.until(lambda: "/types/" in ines.driver.current_url, "the bench")
    ines.type_at(".samples input[type=file]", "\n".join(map(str, files)))
    ines.until(lambda: f"of {len(files)}:" in ines.text(".strip"), "all samples are read", 900)
    ines.open(ines.driver.current_url.removeprefix(ines.address).partition("?")[0])
    ines.until(lambda: ines.driver.find_elements(By.CSS_SELECTOR, ".sheet[data-words]"), "the words of the page")


def live(ines: AtTheBrowser, column: int) -> list[str]:
    cells = ines.driver.find_elements(By.CSS_SELECTOR, f".live-rows tbody tr td:nth-child({column + 1})")
    return [cell.text for cell in cells]


def cell(ines: AtTheBrowser, row: int, column: str) -> str:
    return str(ines.driver.execute_script(
        "return document.querySelectorAll('.drawer .row')[arguments[0] - 1]"
        ".querySelector(`input[data-column=\"${arguments[1]}\"]`).value", row, column))  # fmt: skip


def at_cell(ines: AtTheBrowser, row: int, column: str) -> None:
    ines.driver.execute_script(
        "document.querySelectorAll('.drawer .row')[arguments[0] - 1]"
        ".querySelector(`input[data-column=\"${arguments[1]}\"]`).focus()", row, column)  # fmt: skip


def test_1_a_statement_is_drawn_round_once_and_all_pages_fill(ines: AtTheBrowser) -> None:
    begin(ines, "Account statement", STATEMENT)
    left, top, _, _ = ines.word("Date")
    _, _, right, _ = ines.word("Balance", 1)
    _, bottom, _, _ = ines.word("Carried")
    ines.keys("t")
    ines.drag((left - 5, top - 4), (right + 5, bottom - 2))
    ines.until(lambda: "140 rows" in ines.text("#card-table .value"), "the rows of all five pages")
    wanted = truth(STATEMENT, "entries")
    assert live(ines, 1) == [row["date"] for row in wanted[:60]], "carried-forward lines are left out"
    assert live(ines, 3)[:5] == [row["text"] for row in wanted[:5]]
    handles = ines.driver.find_elements(By.CSS_SELECTOR, "[data-number='1'] .divider")
    assert len(handles) == 5
    edge = handles[1].rect
    x, y = edge["x"] + edge["width"] / 2, edge["y"] + 30
    ines.drag((x, y), (x + 6, y))
    ines.until(lambda: "moved a divider" in ines.text(".proof .said"), "the divider is kept for the layout")
    ines.says("#card-table .value", "140 rows")
    ines.keys("i")
    ines.click(ines.middle(str(wanted[0]["text"]).split()[1]))
    ines.until(lambda: "Column 7 begins" in ines.text("#toast"), "a divider is added where it was clicked")
    assert live(ines, 4)[0] == " ".join(str(wanted[0]["text"]).split()[1:])
    handle = ines.driver.find_elements(By.CSS_SELECTOR, "[data-number='1'] .divider")[2]
    handle.send_keys(Keys.DELETE)
    ines.until(lambda: "took a divider out" in ines.text(".proof .said"), "and taken away by key")
    assert live(ines, 3)[:5] == [row["text"] for row in wanted[:5]]
    ines.press("[data-dialog=table-settings]")
    ines.says("#table-settings tbody tr:first-child", "140 values", "what dropping it would lose")
    for key in ("reference", "details", "column_7"):
        ines.press(f"#table-settings input[name=drop][value={key}]")
    assert ines.axe() == []
    ines.press("#table-settings .button")
    ines.until(lambda: len(ines.driver.find_elements(By.CSS_SELECTOR, ".live-rows thead th")) == 5, "four columns")
    assert live(ines, 4)[:3] == [f"{float(row['balance'] or 0):,.2f}" for row in wanted[:3]]
    ines.press("[data-dialog=checks]")
    ines.press("#checks input[value='running_balance']")
    for name, column in (("balance", "balance"), ("add", "debit"), ("subtract", "credit")):
        ines.press(f"#checks select[name='running_balance.{name}'] option[value='table.{column}']")
    ines.press("#checks form .button")
    ines.until(lambda: "all proven" in ines.text("#card-table .value"), "the balance proves every row")
    ines.keys("r")
    row = ines.word(str(wanted[2]["reference"]))
    ines.drag((left - 5, row[1] - 2), (right + 5, row[3] + 2))
    ines.until(lambda: "every line is a row" in ines.text("#card-table .rule"), "a row that was shown")
    ines.says("#card-table .value", "140 rows")
    ines.keys("p")
    ines.until(lambda: "140 rows" in ines.text(".wall"), "the proof sheet counts rows")
    assert ines.axe() == []


def test_2_the_lane_delivers_one_sheet_of_all_rows(ines: AtTheBrowser, shared_server: Server) -> None:
    ines.open("/lanes/supplier-statements/rows")
    ines.says("thead", "Balance")
    assert ines.axe() == []
    ines.open("/")
    ines.type_at("#lane-supplier-statements input[type=file]", str(STATEMENT))
    ines.until(
        lambda: (
            ines.text("#lane-supplier-statements .stations b") == "1" and ines.all("#lane-supplier-statements.idle")
        ),
        "delivered",
        900,
    )
    folder = shared_server.delivered / "supplier-statements"
    with (folder / "supplier-statements-entries.csv").open(encoding="utf-8", newline="") as file:
        rows = list(csv.DictReader(file))
    wanted = truth(STATEMENT, "entries")
    assert [(row["Date"], row["Balance"]) for row in rows] == [(row["date"], row["balance"]) for row in wanted]
    assert {row["Supplier"] for row in rows} == {"Tarnwick Rope Works Ltd"}, "fields of the document on each row"
    sheet = load_workbook(folder / "supplier-statements-entries.xlsx").worksheets[0]
    last = [sheet.cell(sheet.max_row, at).value for at in range(1, sheet.max_column + 1)]
    assert sheet.max_row == 141
    assert float(str(last[-1])) == float(wanted[-1]["balance"] or 0), "a real number"


def test_3_rows_are_mended_on_the_review_desk(ines: AtTheBrowser) -> None:
    ines.complaints()  # what other tests gave reason for
    ines.open("/")
    file = FILES / "supplier-invoices" / "bight-04.pdf"
    ines.type_at("#lane-supplier-invoices input[type=file]", str(file))
    ines.until(lambda: "1 needs you" in ines.text(".standing"), "it needs a person", 900)
    ines.press(".batches tbody a")
    ines.press("#contents a[href*='/review/']")
    ines.until(lambda: ines.driver.find_elements(By.CSS_SELECTOR, ".sheet[data-words]"), "the words of the page")
    ines.says(".drawer-head", "adds up to net, 1,243.50")
    same_paper = "[data-act=keep][data-check=not_scanned_again]"  # where another file of tests sent it before
    if ines.all(same_paper):
        ines.press(same_paper)
        ines.until(lambda: not ines.all(same_paper), "this one is kept all the same")
    ines.keys("t")
    ines.until(lambda: ines.driver.find_elements(By.CSS_SELECTOR, ".desk.tall .divider"), "dividers on the page")
    ines.until(lambda: in_view(ines), "the row at hand in view on the page, which got smaller")
    assert ines.axe() == []
    what_is_typed_is_kept(ines)
    at_cell(ines, 1, "description")
    ines.alt("s")
    ines.until(lambda: cell(ines, 2, "description") == "eyelets every 50 cm", "a row is split")
    at_cell(ines, 1, "description")
    ines.alt("j")
    ines.until(lambda: "eyelets every 50 cm" in cell(ines, 1, "description"), "and joined again")
    at_cell(ines, 3, "quantity")
    ines.alt(Keys.ARROW_LEFT)
    ines.until(lambda: cell(ines, 3, "quantity") != "1", "a cell is moved to the column beside it")
    ines.ctrl("z")
    ines.until(lambda: cell(ines, 3, "quantity") == "1", "and undone")
    at_cell(ines, 1, "quantity")
    ines.until(lambda: ines.driver.find_elements(By.CSS_SELECTOR, ".row-mark"), "its row on the page")
    edge = ines.driver.find_elements(By.CSS_SELECTOR, ".divider")[1].rect
    x, y = edge["x"] + edge["width"] / 2, edge["y"] + 20
    ines.drag((x, y), (x + 8, y))
    ines.until(lambda: "rows were read anew" in ines.text("#toast"), "a divider is moved")
    assert cell(ines, 3, "line_total") == "418.50"
    a_check_over_rows_is_settled_by_keyboard(ines)
    assert ines.complaints() == []


def a_check_over_rows_is_settled_by_keyboard(ines: AtTheBrowser) -> None:
    """Row by row, then the check itself; or the check alone, where many rows fail alike."""

    def keep_is_at_hand() -> bool:
        return bool(ines.driver.execute_script("return document.activeElement.matches('.message > [data-act=keep]')"))

    ines.keys("t")
    ines.press("#card-grand_total")
    ines.keys("1")
    ines.until(lambda: ines.card_state("grand_total") == "settled", "the sum that fails is kept as printed")
    for row, total in ((1, "441.10"), (2, "384.20"), (3, "418.20")):  # which leaves the sum as it is
        at_cell(ines, row, "line_total")
        ines.ctrl("a")
        ines.keys(total, Keys.TAB)
        ines.until(lambda row=row: len(ines.all(".drawer .row.fails")) == row, "one more row fails")  # type: ignore[misc]
    at_cell(ines, 1, "line_total")
    for left in (2, 1, 0):
        ines.keys(Keys.ENTER)
        ines.until(lambda left=left: len(ines.all(".drawer .row.fails")) == left, "a row is confirmed")  # type: ignore[misc]
    ines.until(keep_is_at_hand, "after the last row the check itself is at hand")
    for _ in range(3):
        ines.ctrl("z")
    ines.until(lambda: len(ines.all(".drawer .row.fails")) == 3, "the rows are asked for again")
    ines.driver.refresh()
    ines.until(keep_is_at_hand, "three rows that fail alike are one question")
    ines.says("#toast", "fails in 3 rows")
    ines.keys(Keys.ENTER)
    ines.until(lambda: not ines.all(".drawer .row.fails"), "which one key answers")


def what_is_typed_is_kept(ines: AtTheBrowser) -> None:
    """In cells, whichever way they are left; and no key of the desk is typed into one."""
    codes = [cell(ines, at, "item_code") for at in (1, 2, 3)]
    ines.keys("t")
    ines.until(lambda: not ines.all(".desk.tall"), "T is for the table, not for the cell that the page went to")
    ines.keys("t")
    ines.until(lambda: ines.all(".desk.tall .divider"), "open again")
    at_cell(ines, 2, "line_total")
    ines.ctrl("a")
    ines.keys("390", Keys.TAB)
    ines.until(lambda: "quantity × unit price ≠ line total" in ines.text(".drawer"), "the row says what is wrong")
    ines.says(".drawer-head", "1,249.50, 6.00 more than net", "a cell that is left with Tab is kept, and sums are live")
    at_cell(ines, 3, "description")
    ines.ctrl("a")
    ines.keys("Left by a click")
    ines.click(ines.middle("Tarpaulin"))
    ines.until(lambda: "Tarpaulin" in cell(ines, 3, "description"), "the click is for the cell")
    ines.ctrl("z")
    ines.until(lambda: cell(ines, 3, "description") == "Left by a click", "and what was typed before it was kept")
    ines.ctrl("z")
    ines.until(lambda: cell(ines, 3, "description") != "Left by a click", "both can be undone")
    at_cell(ines, 2, "line_total")
    ines.click(ines.middle("384.00"))
    ines.until(lambda: cell(ines, 2, "line_total") == "384.00", "a word of the page goes into the cell")
    assert [cell(ines, at, "item_code") for at in (1, 2, 3)] == codes


def test_4_the_text_under_a_heading_over_page_breaks(ines: AtTheBrowser) -> None:
    names = ("hull-survey-01.pdf", "hull-survey-02.pdf", "hull-survey-04.pdf")
    files = [FILES / "hull-surveys" / name for name in names]
    begin(ines, "Hull survey", *files)
    details = json.loads(files[0].with_name(files[0].name + ".truth.json").read_text())["fields"]
    for heading in ("Findings", "Recommendations"):
        (left, top, _, bottom), before = ines.word(heading), ines.active()
        ines.keys("f")
        ines.drag((left - 4, top - 3), (left + 260, bottom + 60))
        ines.until(lambda: ines.active() == heading.lower() != before, f"a field for {heading}")  # noqa: B023
        wanted = details[heading.lower()].split("\n")[-1][-40:].rstrip(".")
        ines.says(f"#card-{heading.lower()} .pins .mono", wanted, "to the end of the section")
    ines.press("#card-recommendations [data-setting='section.headings']")
    ines.until(lambda: (ines.type_at("#settings textarea[name='section.headings']", "\nRecommended work"), True)[1])
    ines.press("#settings .button")
    ines.until(lambda: "Recommended work" in ines.text("#card-recommendations .rule"), "another wording")
    ines.until(lambda: "not on this sample" not in ines.text(".samples"), "found on every sample")
    assert ines.axe() == []


NEWS = """
document.getElementById("margins").dataset.stamp = "of before";
document.body.dispatchEvent(new Event("live-open"));
"""
"""The page hears that there is something new, and it differs from what is shown."""


def test_5_one_type_reads_the_lines_of_all_suppliers(ines: AtTheBrowser) -> None:
    papers = ("bight-02.pdf", "brevanne-01.pdf", "dredgemoor-02.pdf", "hallig-02.pdf", "moewenbek-01.pdf",
              "norrhavn-01.pdf", "ostersiel-01.pdf", "tarnwick-03.pdf", "tremarec-01.pdf")  # fmt: skip
    files = [FILES / "supplier-invoices" / name for name in papers]
    ines.open("/types")
    ines.press("form[action='/types/starters/supplier-invoice'] button")
    ines.until(lambda: ines.driver.find_elements(By.CSS_SELECTOR, ".samples input[type=file]"), "the bench")
    ines.type_at(".samples input[type=file]", "\n".join(map(str, files)))
    ines.until(lambda: f"of {len(files)}:" in ines.text(".strip"), "all samples are read", 900)
    ines.open(ines.driver.current_url.removeprefix(ines.address).partition("?")[0] + "?field=lines")
    ines.until(lambda: ines.driver.find_elements(By.CSS_SELECTOR, "#card-lines.active"), "the table at hand")
    shown = {
        cell.get_attribute("title"): cell.find_element(By.CSS_SELECTOR, ".mono").text.split(" row")[0].split()[-1]
        for cell in ines.driver.find_elements(By.CSS_SELECTOR, ".cell[data-act=sample]")
    }
    assert shown == {file.name: str(len(truth(file, "lines"))) for file in files}
    ines.press("[data-dialog=table-settings]")
    ines.type_at("#table-settings tr:last-child input[name=called]", "Details")
    ines.press("#table-settings tr:last-child select[name=of] option[value=description]")
    ines.press("#table-settings tr:last-child select[name=part] option[value='other_lines']")
    ines.press("#table-settings .button")
    ines.until(lambda: "Details" in ines.text(".live-rows thead"), "a column cut from another")
    for file in (files[1], files[3], files[6]):
        ines.press(f".cell[title='{file.name}']")
        wanted = [str(row["description"]).partition("\n")[2] for row in truth(file, "lines")]
        ines.until(lambda: live(ines, 7) == wanted, f"second lines on {file.name}")  # noqa: B023
    ines.press(f".cell[title='{files[7].name}']")
    row = truth(files[7], "lines")[0]
    ines.until(lambda: live(ines, 1) == [one["item_code"] for one in truth(files[7], "lines")], "the last supplier")
    (left, top, _, _), (_, _, right, _) = (
        ines.word(str(row["item_code"])),
        ines.word(f"{float(str(row['line_total'])):,.2f}"),
    )
    below = ines.word(str(row["description"]).split()[-1])
    ines.keys("r")
    ines.driver.execute_script(NEWS)
    ines.until(lambda: ines.attribute("#margins", "data-stamp") != "of before", "the news")
    ines.drag((left - 6, top - 3), (right + 6, below[3] + 2))
    ines.until(lambda: "rows. It holds on all samples." in ines.text("#toast"), "the rows follow the one drawn round")
    assert len(live(ines, 1)) == len(truth(files[7], "lines"))


def in_view(ines: AtTheBrowser) -> bool:
    paper, row = ines.one(".paper").rect, ines.one(".row-mark").rect
    return bool(paper["y"] <= row["y"] and row["y"] + row["height"] <= paper["y"] + paper["height"])
