"""A record in the accounting system: the ledger connected, columns tied, tried, sent, and asked what it has."""

from __future__ import annotations

import re
import shutil
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Server
from tests.browser.person import AtTheBrowser, at_work

pytestmark = pytest.mark.browser
INVOICES = Path(__file__).parents[2] / "demo" / "files" / "supplier-invoices"
LANE = "/lanes/supplier-invoices"


@pytest.fixture
def ines(browser: webdriver.Chrome, server: Server) -> AtTheBrowser:
    return at_work(browser, server.address, "/lanes")


def arrives(ines: AtTheBrowser, server: Server, name: str, batch: int, has: str = "Delivered as") -> None:
    """A file is laid into the lane's folder, and what the lane delivers to has it."""
    shutil.copy(INVOICES / name, server.incoming / "supplier-invoices" / name)

    def has_it() -> bool:
        ines.open(f"/batches/{batch}")
        return has in ines.text("main")

    ines.until(has_it, f"{name} delivered")


def middle(ines: AtTheBrowser, css: str) -> tuple[float, float]:
    box = ines.driver.execute_script(
        "const b = document.querySelector(arguments[0]).getBoundingClientRect(); return [b.x, b.y, b.width, b.height]",
        css,
    )
    return box[0] + box[2] / 2, box[1] + box[3] / 2


def connect(ines: AtTheBrowser, address: str, key: str) -> None:
    ines.open(f"{LANE}/records")
    for name, text in (("name", "Ledger"), ("address", f"{address}/api/vouchers"), ("secret", key)):
        ines.type_at(f"[name={name}]", text)
    ines.press(".connecting .button")


def tied(ines: AtTheBrowser, column: str, to: str) -> None:
    ines.says(f"[data-column='{column}'] .what", to)


def test_1_a_record_in_the_accounting_system(ines: AtTheBrowser, server: Server) -> None:
    arrives(ines, server, "brevanne-01.pdf", 1)
    ledger = re.search(r"(http://\S+)/api/vouchers, with the key (\S+)", server.log.read_text())
    assert ledger
    connect(ines, ledger[1], "not the key")
    ines.says("body", "The key is not known")
    connect(ines, ledger[1], ledger[2])
    ines.says(".said", "Required over there and not tied: Supplier, Voucher number, Voucher date, Total.")
    assert ledger[2] not in ines.driver.page_source and ines.axe() == []

    ines.press("[data-ours='seller_name']")
    ines.press("[data-column='supplier']")
    tied(ines, "supplier", "Supplier")
    ines.drag(middle(ines, "[data-ours='invoice_number']"), middle(ines, "[data-column='number']"))
    tied(ines, "number", "Invoice number")
    ines.type_at("[data-ours='invoice_number']", Keys.ARROW_DOWN)
    ines.keys(Keys.ENTER, Keys.ARROW_RIGHT, Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ENTER)
    tied(ines, "date", "Invoice date")
    ines.says("[data-column='date']", "2026-")
    ines.press("[data-ours='batch']")
    ines.press("[data-column='total']")
    ines.says("[data-column='total']", "takes a number, and is “B1”")
    ines.type_at("[data-column='total']", Keys.DELETE)
    ines.says(".said", "not tied: Total.")
    ines.press("[data-ours='grand_total']")
    ines.press("[data-column='total']")
    tied(ines, "total", "Total")
    ines.press("[data-ours='batch']")
    ines.press("[data-column='batch']")
    tied(ines, "batch", "Batch")
    ines.press("[data-ours='lines/description']")
    ines.press("[data-column='lines/text']")
    tied(ines, "lines/text", "Line items: Description")
    assert len(ines.all(".threads path")) == 6 and ines.axe() == []

    ines.press(".said form[action$='/test'] .button")
    ines.says("#tried", '"batch": "B1"')
    ines.says("#tried", "It was removed over there again: V-00001.")
    ines.open(LANE)
    ines.says(".sentences-of-lane", "Records go to Ledger.")
    ines.one("#trial input[type=file]").send_keys(str(INVOICES / "bight-02.pdf"))
    ines.says("#trial", "as a record to Ledger")
    ines.says("#trial .record", "Supplier Bight & Bollard Ltd")
    ines.press(".strip form[action$='put-in-force'] .button")
    ines.until(lambda: not ines.all(".strip form"), "active")
    arrives(ines, server, "bight-02.pdf", 2, "Taken as")
    ines.says(".by-destination", "as a record to Ledger: 1 delivered")
    ines.says("#reconciled", "Ledger: here 1 record, Total")
    ines.says("#reconciled", "over there 1 record, Total")
    assert ines.all("#reconciled .mark.settled") and ines.axe() == []
    ines.driver.get(ledger[1])
    ines.says("table", "Bight & Bollard Ltd")


def test_2_a_system_that_is_removed_can_be_put_back(ines: AtTheBrowser) -> None:
    ines.open(f"{LANE}/records/ledger")
    ines.press(".strip form[action$='/remove'] button")
    ines.until(lambda: not ines.all("main table"), "the ledger gone")
    ines.press(".strip form[action$='/undo'] button")
    ines.says("main table", "Ledger")
    assert ines.axe() == []


def test_3_what_goes_into_a_column_is_looked_at_and_changed(ines: AtTheBrowser) -> None:
    ines.open(f"{LANE}/records/ledger")
    ines.press("[data-how='text']")
    Select(ines.one("#how [name=source]")).select_by_value("joined")
    ines.type_at("#how [name=pattern]", "{buyer_name}, {order_reference}")
    ines.press("#how .button")
    tied(ines, "text", "“[Buyer], [Order]”")
    ines.press("[data-how='text']")
    assert ines.one("#how [name=pattern]").get_attribute("value") == "{buyer_name}, {order_reference}"
    ines.press("#how [data-close]")
    ines.press("[data-how='lines/text']")
    assert Select(ines.one("#how [name=ours]")).first_selected_option.text == "Line items: Description"
    ines.press("#how [formaction$='/remove']")
    ines.until(lambda: not ines.all(".used[data-column='lines/text']"), "untied")
