"""What the business already knows, through the real interface: suppliers, orders, the batch sheet, data in the file."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Server
from tests.browser.person import AtTheBrowser, at_work
from tests.browser.test_business_systems import INVOICES, LANE, has, lay_in

pytestmark = pytest.mark.browser
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
    ines.one(".list-columns [name=file]").send_keys(str(newer))
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
    assert len(ines.driver.find_elements(By.CSS_SELECTOR, "#card-entry-suppliers [data-act=entry]")) >= 2
