"""What the business already knows, through the real interface: suppliers, orders, the batch sheet, data in the file."""

from __future__ import annotations

import json
import re
import shutil
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Server
from tests.browser.person import AtTheBrowser, at_work
from tests.browser.test_business_systems import INVOICES, LANE, activate, add, has, lay_in
from zestpail.core.exchange.parse import parse
from zestpail.core.exchange.rules import broken_rules

pytestmark = pytest.mark.browser
HYBRIDS = INVOICES.parent / "hybrid-invoices"
BOOKS = INVOICES.parent / "ledger" / "books.json"


@pytest.fixture
def ines(browser: webdriver.Chrome, server: Server) -> AtTheBrowser:
    return at_work(browser, server.address, "/lists")


def use_newest(ines: AtTheBrowser) -> None:
    """The type's draft is published, and the lane reads with it."""
    ines.open("/types/supplier-invoice/revisions")
    ines.press("#publish .button")
    ines.says("table", "Ines")
    ines.open(LANE)
    ines.press("form.newer .button")
    ines.press(".strip form[action$='put-in-force'] .button")
    ines.until(lambda: not ines.all(".strip form"), "active")


def test_1_suppliers_of_the_ledger(ines: AtTheBrowser, server: Server, tmp_path: Path) -> None:
    ledger, key = re.findall(r"(http://\S+)/api/vouchers, with the key (\S+)", server.log.read_text())[0]
    add = ".begin form:nth-of-type(2)"
    ines.type_at(f"{add} [name=name]", "Suppliers")
    ines.type_at(f"{add} [name=address]", f"{ledger}/api/suppliers")
    ines.type_at(f"{add} [name=secret]", key)
    ines.press(f"{add} .button")
    ines.says(".strip", "300 entries, revision 1")
    says = [ines.one(f"[name='says.{name}']").get_attribute("value") for name in ("number", "vat", "iban", "name")]
    assert says == ["identifier", "vat_number", "iban", "name"]
    assert ines.axe() == []
    Select(ines.one(".list-columns [name=type]")).select_by_visible_text("Supplier invoice")
    ines.press(".list-columns form[action$='/use'] .button")
    for column in ("number", "days_to_pay", "cost_centre"):
        ines.press(f"[name=columns][value={column}]")
    assert ines.axe() == []
    ines.press(".use-list .button")
    ines.says(".use-list", "fills Supplier number")
    use_newest(ines)

    lay_in(server, "supplier-invoices", "bight-01.tif")
    has(ines, 1, "70020")  # what the list says of it stands among its values
    books = json.loads(BOOKS.read_text())["suppliers"]
    changed = [
        {**one, "iban": "XQ990000550000218199"} if one["name"] == "Möwenbek Schiffsbedarf GmbH" else one
        for one in books if one["name"] != "Hallig & Söhne Kranservice KG"
    ]  # fmt: skip
    newer = tmp_path / "suppliers.json"
    newer.write_text(json.dumps(changed))
    ines.open("/lists/suppliers")
    ines.type_at(".list-columns [name=file]", str(newer))
    ines.press(".list-columns form[action$='/file'] .button")
    ines.says(".strip", "299 entries, revision 2")
    ines.open("/lists/suppliers/revisions/2")
    ines.says("tbody", "XQ990000550000218199")

    lay_in(server, "supplier-invoices", "hallig-01.tif")
    lay_in(server, "supplier-invoices", "moewenbek-01.pdf")
    ines.until(lambda: (ines.open("/review/2"), ines.all("#card-entry-suppliers"))[1], "the unknown supplier")
    ines.says("#card-entry-suppliers.fails", "Supplier is not known")
    assert ines.axe() == []
    ines.press("#card-entry-suppliers .line")
    ines.press("#card-entry-suppliers [data-act=create]")
    ines.says("#card-entry-suppliers.settled", "79001")
    ines.until(lambda: (ines.open("/review/3"), ines.all("#card-seller_iban.fails"))[1], "the changed account")
    ines.says("#card-seller_iban", "there it is XQ990000550000218199")
    ines.press("#card-entry-suppliers .line")
    ines.type_at("#card-entry-suppliers input", "Möwenbek Farben GmbH", Keys.ENTER)
    ines.says("#card-entry-suppliers", "Möwenbek Farben GmbH")
    ines.ctrl("z")
    ines.says("#card-entry-suppliers", "Möwenbek Schiffsbedarf GmbH")
    assert len(ines.driver.find_elements(By.CSS_SELECTOR, "#card-entry-suppliers [data-act=entry]")) >= 1


def test_2_orders(ines: AtTheBrowser, server: Server) -> None:
    ledger, key = re.findall(r"(http://\S+)/api/vouchers, with the key (\S+)", server.log.read_text())[0]
    add = ".begin form:nth-of-type(2)"
    ines.type_at(f"{add} [name=name]", "Orders")
    ines.type_at(f"{add} [name=address]", f"{ledger}/api/orders")
    ines.type_at(f"{add} [name=secret]", key)
    ines.press(f"{add} .button")
    ines.says(".strip", "40 entries, revision 1")
    assert ines.one("[name='says.line_price']").get_attribute("value") == "line_price"
    Select(ines.one(".list-columns [name=type]")).select_by_visible_text("Supplier invoice")
    ines.press(".list-columns form[action$='/use'] .button")
    assert Select(ines.one("[name=named_by]")).first_selected_option.text == "Order"
    assert ines.axe() == []
    ines.press(".use-list .button")
    ines.says(".said", "uses Orders")
    use_newest(ines)

    lay_in(server, "supplier-invoices", "tarnwick-03.pdf")
    lay_in(server, "supplier-invoices", "brevanne-02.jpg")
    for name, said in (("tarnwick-03.pdf", "was agreed"), ("brevanne-02.jpg", "was ordered")):
        number = ines.until(lambda name=name: waiting(ines, name), name)
        ines.open(f"/review/{number}")
        ines.says("#cards", said)
    order = ines.one("#card-order_reference input").get_attribute("value")
    ines.press("#card-order_reference .line")
    ines.type_at("#card-order_reference input", Keys.CONTROL + "a" + Keys.NULL, Keys.DELETE, Keys.ENTER)
    ines.says("#card-entry-orders.fails", "is not known")
    ines.says("#card-entry-orders", f"It is {order}")
    assert ines.axe() == []
    ines.press("#card-entry-orders .line")
    ines.press(f"#card-entry-orders [data-entry='{order}']")
    ines.until(lambda: ines.one("#card-order_reference input").get_attribute("value") == order, "the order is named")


def waiting(ines: AtTheBrowser, name: str) -> str:
    """The number of the document of that file, once it waits for review."""
    ines.open("/sheets/queue")
    rows = ines.driver.execute_async_script(
        "fetch('/sheets/queue/rows').then((answer) => answer.json()).then((sheet) => arguments[0](sheet.rows))"
    )
    return next((str(row["id"]) for row in rows if row["file"] == name), "")


CELL = """
const [file, field] = arguments;
const head = [...document.querySelectorAll('.sheet-head .sheet-cell')].find((one) => one.title === field);
const row = [...document.querySelectorAll('.sheet-rows .sheet-row')].find((one) => one.innerText.includes(file));
return head && row && row.querySelector(`[aria-colindex='${head.getAttribute('aria-colindex')}']`);
"""
ASIDE = "const g = document.querySelector('.sheet-grid'); g.scrollLeft = arguments[0]; return g.scrollWidth"


def cell_of(ines: AtTheBrowser, file: str, field: str) -> WebElement:
    """The sheet's cell of a document's field; the sheet is scrolled aside until it is there."""

    def there() -> WebElement | None:
        return ines.driver.execute_script(f"return ((...arguments) => {{{CELL}}})(...arguments)", file, field)

    def found() -> WebElement | None:
        for x in range(0, int(ines.driver.execute_script(ASIDE, 0)), 250):
            ines.driver.execute_script(ASIDE, x)
            if seen := there():
                ines.driver.execute_script("arguments[0].scrollIntoView({inline: 'center', block: 'nearest'})", seen)
                return there()  # it may have been drawn anew
        return None

    return ines.until(found, f"{field} of {file}")


def cell(ines: AtTheBrowser, file: str, field: str) -> str:
    return cell_of(ines, file, field).text


def at_cell(ines: AtTheBrowser, file: str, field: str) -> None:
    """The cell is at hand."""
    ines.until(lambda: (cell_of(ines, file, field).click(), True)[1], f"a click on {field} of {file}")


def names_down(ines: AtTheBrowser) -> list[str]:
    return [one.text for one in ines.all(".sheet-rows .sheet-cell.file")]


def test_3_the_batch_sheet(ines: AtTheBrowser, server: Server) -> None:
    files = ("norrhavn-03.tif", "bight-04.pdf", "hallig-02.pdf")
    for name in files:
        lay_in(server, "supplier-invoices", name)
    ines.until(lambda: (ines.open("/review"), ines.all("#cards"))[1], "something to review")
    ines.open("/sheets/queue?lane=supplier-invoices")
    ines.until(lambda: all(name in ines.text(".sheet-rows") for name in files), "all of them wait")
    assert ines.axe() == []

    at_cell(ines, "norrhavn-03.tif", "Order")
    ines.keys("QHB-1", Keys.ENTER)
    ines.until(lambda: cell(ines, "norrhavn-03.tif", "Order") == "QHB-1", "what was typed")
    ines.keys(Keys.F2, "9", Keys.ESCAPE)
    ines.until(lambda: cell(ines, "norrhavn-03.tif", "Order") == "QHB-1", "given up")
    at_cell(ines, "norrhavn-03.tif", "Invoice date")
    ines.keys("31.02.2026", Keys.ENTER)
    ines.says("#toast.shown", "“31.02.2026” is not a date.")

    ines.press(".sheet-head [data-sort=file]")
    ines.until(lambda: (names := names_down(ines)) == sorted(names) and len(names) >= len(files), "sorted by name")
    at_cell(ines, "bight-04.pdf", "Order")
    ines.keys("FILL", Keys.ENTER)
    ines.until(lambda: cell(ines, "bight-04.pdf", "Order") == "FILL", "the first of two")
    at_cell(ines, "bight-04.pdf", "Order")
    ines.shift(Keys.ARROW_DOWN)
    ines.ctrl("d")
    ines.until(lambda: cell(ines, "brevanne-02.jpg", "Order") == "FILL", "filled down")
    ines.ctrl("z")
    ines.until(lambda: cell(ines, "brevanne-02.jpg", "Order") != "FILL", "undone")

    at_cell(ines, "bight-04.pdf", "Order")
    ines.ctrl("c")
    ines.says("#toast.shown", "Copied.")
    at_cell(ines, "hallig-02.pdf", "Order")
    ines.ctrl("v")
    ines.until(lambda: cell(ines, "hallig-02.pdf", "Order") == "FILL", "pasted")
    ines.type_at(".sheet-tools [name=find]", "norrhavn")
    ines.says(".counts", "1 of")
    ines.keys(Keys.F8)
    ines.one(".sheet-page svg image")
    ines.keys(Keys.F8)
    ines.driver.execute_script("document.querySelector('.sheet-tools [name=find]').value = ''")
    ines.type_at(".sheet-tools [name=find]", " ", Keys.BACKSPACE)

    at_cell(ines, "norrhavn-03.tif", "Buyer")
    ines.one(".sheet-close img")
    ines.ctrl(Keys.ENTER)
    ines.until(lambda: ines.all(".sheet-row .here:not(.needs)"), "confirmed")
    assert ines.axe() == []


def test_4_one_field_across_many_documents(ines: AtTheBrowser) -> None:
    ines.open("/sheets/queue/wall?lane=supplier-invoices&field=seller_name")
    bricks = len(ines.all(".brick"))
    assert bricks and ines.axe() == []
    ines.keys("x")
    ines.one(".brick.struck")
    if bricks > 1:
        ines.ctrl(Keys.ENTER)
        ines.until(lambda: len(ines.all(".brick:not(.gone)")) < bricks, "the rest is confirmed")
    ines.until(lambda: (ines.type_at(".brick.struck", Keys.ENTER), ines.all(".brick input"))[1], "to be typed")
    ines.keys("Corrie Lamps")
    ines.ctrl(Keys.ENTER)
    ines.until(lambda: not ines.all(".brick:not(.gone, .fails)"), "what stands in the open box goes with the others")
    ines.ctrl("z")
    ines.until(lambda: ines.all(".brick:not(.gone)"), "undone")


def test_5_the_invoice_that_is_already_data(ines: AtTheBrowser, server: Server) -> None:
    add(ines, LANE, "folder", folder="e-invoices")
    ines.press(".files-out [value=invoice_ubl]")
    ines.press(".files-out .settings .button")
    ines.until(lambda: ines.one(".files-out [value=invoice_ubl]").is_selected(), "as UBL too")
    activate(ines, LANE)
    for name in ("hybrid-05.pdf", "hybrid-06.pdf"):
        shutil.copy(HYBRIDS / name, server.incoming / "supplier-invoices" / name)
    number = ines.until(lambda: waiting(ines, "hybrid-06.pdf"), "the one that contradicts itself")
    ines.open(f"/review/{number}")
    ines.says("#card-grand_total", "the data say")
    assert ines.axe() == []

    def delivered() -> list[Path]:
        return list((server.delivered / "e-invoices").rglob("*.xml"))

    [sent] = ines.until(delivered, "the other one went out, as data too")
    truth = json.loads((HYBRIDS / "hybrid-05.pdf.truth.json").read_text())["fields"]
    invoice = parse(sent.read_bytes())
    assert (invoice.number, str(invoice.grand_total)) == (truth["invoice_number"], truth["grand_total"])
    assert broken_rules(invoice) == []
    alone = server.incoming / "supplier-invoices" / "alone.xml"
    alone.write_bytes(sent.read_bytes().replace(invoice.number.encode(), b"ALONE-1"))
    ines.until(lambda: (ines.open("/find?words=ALONE-1"), "alone" in ines.text("main"))[1], "data without a paper")


def test_6_caught(ines: AtTheBrowser, server: Server) -> None:
    """What no single paper tells, each with what it is held against; the lists of the first stories are in use."""
    caught = INVOICES.parent / "caught-invoices"

    def comes(name: str) -> None:
        shutil.copy(caught / name, server.incoming / "supplier-invoices" / name)

    def stands(name: str, words: str) -> None:
        ines.until(lambda: (ines.open(f"/find?words={name}"), words in ines.text("main"))[1], f"{name} {words}")

    for name in ("as-it-should-be-1.pdf", "as-it-should-be-2.pdf"):
        comes(name)
        stands(name, "delivered")
    for name, card, said in (
        ("same-number.pdf", "#card-grand_total", "as-it-should-be-1.pdf, which came on"),
        ("another-number.pdf", "#card-invoice_number", "under the invoice number 761505"),
        ("scanned-again.tif", "#cards", "as-it-should-be-2.pdf, which came on"),
        ("another-account.pdf", "#card-seller_iban", "2 of 2 earlier documents of Ostersiel Elektro AG had XQ12"),
        ("due-before.pdf", "#card-due_date", "is before"),
        ("ten-times.pdf", "#card-grand_total", "is 10 times 3337.59"),
        ("swapped-price.pdf", ".row.fails", "Order QHB-6041: price 161, 611 was agreed (two figures look swapped)"),
    ):
        comes(name)
        number = ines.until(lambda name=name: waiting(ines, name), name)
        ines.open(f"/review/{number}")
        ines.says(card, said)
        if name == "scanned-again.tif":
            ines.says("#cards", "shows the same paper")
            assert ines.one("#cards [data-check=not_scanned_again] a").text == "See that one"
    assert ines.axe() == []
    ines.press("[data-act=keep][data-check^=agrees_with_order]")
    ines.until(lambda: not ines.all(".row.fails"), "kept as printed")
