"""Documents and values into other systems, through the real interface: the six stories against the stand-ins."""

from __future__ import annotations

import io
import re
import shutil
import smtplib
from email.message import EmailMessage
from pathlib import Path

import httpx
import pytest
from odfdo import Document
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


def told(server: Server, system: str) -> str:
    """The address of a stand-in, as the demo says it."""
    return str(re.findall(rf"{system}\D* at (http://[^\s/;]+)", server.log.read_text())[-1])


def has(ines: AtTheBrowser, batch: int, words: str) -> None:
    def has_it() -> bool:
        ines.open(f"/batches/{batch}")
        return words in ines.text("main")

    ines.until(has_it, f"batch {batch}: {words}")


def lay_in(server: Server, lane: str, name: str, under: str = "") -> None:
    """A file is laid into the lane's folder."""
    shutil.copy(INVOICES / name, server.incoming / lane / (under or name))


def add(ines: AtTheBrowser, lane: str, kind: str, **entered: str) -> None:
    """Another destination of that kind, set up as a person does it."""
    ines.open(f"{lane}/destinations")
    ines.press(f"[data-dialog=add-{kind}]")
    for name, text in entered.items():
        ines.type_at(f"#add-{kind} [name={name}]", text)
    ines.press(f"#add-{kind} .button")


def activate(ines: AtTheBrowser, lane: str) -> None:
    ines.open(lane)
    ines.press(".strip form[action$='put-in-force'] .button")
    ines.until(lambda: not ines.all(".strip form"), "active")


def begin_lane(ines: AtTheBrowser, name: str) -> str:
    ines.open("/lanes")
    ines.type_at("main .control [name=name]", name)
    Select(ines.one("main .control [name=type]")).select_by_visible_text("Supplier invoice")
    ines.press("main .control .button")
    ines.one(".sentences-of-lane")
    return "/lanes/" + name.lower().replace(" ", "-")


def middle(ines: AtTheBrowser, css: str) -> tuple[float, float]:
    box = ines.driver.execute_script(
        "const b = document.querySelector(arguments[0]).getBoundingClientRect(); return [b.x, b.y, b.width, b.height]",
        css,
    )
    return box[0] + box[2] / 2, box[1] + box[3] / 2


def tie(ines: AtTheBrowser, **ties: str) -> None:
    """A value pressed, and then the column."""
    for column, ours in ties.items():
        ines.press(f"[data-ours='{ours}']")
        ines.press(f"[data-column='{column}']")
        ines.one(f".used[data-column='{column}']")


def tied(ines: AtTheBrowser, column: str, to: str) -> None:
    ines.says(f"[data-column='{column}'] .what", to)


def name_columns(ines: AtTheBrowser, *names: str) -> None:
    for name in names:
        ines.type_at(".new-column [name=name]", name)
        ines.press(".new-column .button")
        ines.says(".theirs", name)


def test_1_a_record_in_the_accounting_system(ines: AtTheBrowser, server: Server) -> None:
    lay_in(server, "supplier-invoices", "brevanne-01.pdf")
    has(ines, 1, "Delivered as")
    ledger, key = re.findall(r"(http://\S+)/api/vouchers, with the key (\S+)", server.log.read_text())[0]
    add(ines, LANE, "record", name="Ledger", address=f"{ledger}/api/vouchers", secret="not the key")
    ines.says("body", "The key is not known")
    add(ines, LANE, "record", name="Ledger", address=f"{ledger}/api/vouchers", secret=key)
    ines.says(".faults", "Required over there and not tied: Supplier, Voucher number, Voucher date, Total.")
    assert key not in ines.driver.page_source and ines.axe() == []

    ines.drag(middle(ines, "[data-ours='invoice_number']"), middle(ines, "[data-column='number']"))
    tied(ines, "number", "Invoice number")
    ines.type_at("[data-ours='invoice_number']", Keys.ARROW_DOWN)
    ines.keys(Keys.ENTER, Keys.ARROW_RIGHT, Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ENTER)
    tied(ines, "date", "Invoice date")
    ines.says("[data-column='date']", "2026-")
    tie(ines, total="batch")
    ines.says("[data-column='total']", "takes a number, and is “B1”")
    ines.type_at("[data-column='total']", Keys.DELETE)
    ines.says(".faults", "not tied: Supplier, Total.")
    ines.press(".mapped header button")
    tied(ines, "supplier", "Supplier")
    tied(ines, "total", "Total")
    tie(ines, batch="batch")
    tie(ines, **{"lines/text": "lines/description"})
    ines.press("[data-how='text']")
    Select(ines.one("#how [name=source]")).select_by_value("joined")
    ines.type_at("#how [name=pattern]", "{buyer_name}, {order_reference}")
    ines.press("#how .button")
    tied(ines, "text", "“[Buyer], [Order]”")
    ines.press("[data-how='lines/text']")
    assert Select(ines.one("#how [name=ours]")).first_selected_option.text == "Line items: Description"
    ines.press("#how [data-close]")
    assert len(ines.all(".threads path")) == len(ines.all(".theirs .used")) + 1 and ines.axe() == []

    ines.press(".said form[action$='/test'] .button")
    ines.says("#tried", '"batch": "B1"')
    ines.says("#tried", "It was removed over there again: V-00001.")
    activate(ines, LANE)
    ines.says(".sentences-of-lane", "It also goes as a record to Ledger.")
    lay_in(server, "supplier-invoices", "bight-02.pdf")
    has(ines, 2, "Taken as")
    ines.says(".by-destination", "as a record to Ledger: 1 delivered")
    ines.says("#reconciled", "Ledger: here 1 record, Net")
    ines.says("#reconciled", "over there 1 record, Net")
    assert ines.all("#reconciled .mark.settled") and ines.axe() == []
    ines.open("/batches/2/receipts")
    ines.says("main table", "V-0000")
    assert ines.axe() == []
    ines.driver.get(ledger)
    ines.says("table", "Bight & Bollard Ltd")


def test_2_the_repository(ines: AtTheBrowser, server: Server) -> None:
    user, word = re.findall(r"/files, from (\S+) with the password (\S+)", server.log.read_text())[0]
    repository = told(server, "repository takes files")
    lane = begin_lane(ines, "Archive")
    add(ines, lane, "repository", name="Repository", address=f"{repository}/files/bills", user=user, secret=word)
    name_columns(ines, "Supplier", "Invoice number", "Remark")
    ines.press(".mapped header button")
    tied(ines, "invoice_number", "Invoice number")
    ines.press(".files-out [value=original]")
    ines.type_at("#naming", "{Supplier}/{Invoice date: year}/{Invoice number}")
    ines.press(".files-out .settings .button")
    ines.until(lambda: ines.one(".files-out [value=original]").is_selected(), "the pages as they came too")
    assert ines.axe() == []
    activate(ines, lane)
    lay_in(server, "archive", "norrhavn-01.pdf")
    has(ines, 3, "original.pdf")
    ines.driver.get(f"{repository}/?text=Quillon+Harbour")
    ines.says("table", "/2026/")
    ines.says("p", "2 files")
    link = ines.one("td a[href*='original']").get_attribute("href")
    assert httpx.get(str(link)).content == (INVOICES / "norrhavn-01.pdf").read_bytes(), "kept as it came"
    assert ines.one("thead").text.split() == ["File", "invoice_number", "supplier"]


def test_3_rename_and_move(ines: AtTheBrowser, server: Server, tmp_path: Path) -> None:
    lane = begin_lane(ines, "Renamed")
    ines.press("a.setting[href='#delivery']")
    for name in ("csv", "xlsx"):
        ines.one(f"#delivery [name={name}]").clear()
    ines.one("#naming").clear()
    ines.type_at("#naming", "{Supplier} bill {Invoice date: year} {Order}")
    ines.press("#delivery .button")
    ines.says(".sentences-of-lane", "add a row to no sheet")
    names = {"scan0001.pdf": "dredgemoor-01.pdf", "scan0002.pdf": "bight-04.pdf", "scan0003.pdf": "moewenbek-01.pdf"}
    for scan, invoice in names.items():
        shutil.copy(INVOICES / invoice, tmp_path / scan)
    shutil.copy(INVOICES / "dredgemoor-01.pdf", tmp_path / "scan0004.pdf")
    ines.type_at("#trial input[type=file]", "\n".join(str(path) for path in sorted(tmp_path.glob("*.pdf"))))
    ines.until(lambda: ines.text("#trial").count("scan000") >= 4 and not ines.all("#trial progress"), "all tried")
    rows = [row.text for row in ines.all(".renamed tbody tr:not(.more)")]
    assert [row.split()[0] for row in rows] == ["scan0001.pdf", "scan0002.pdf", "scan0003.pdf", "scan0004.pdf"]
    assert "(2).pdf" in rows[3] and "is taken already" in rows[3] and ines.axe() == []
    assert not (server.delivered / "renamed").exists(), "nothing was written"
    activate(ines, lane)
    lay_in(server, "renamed", "dredgemoor-01.pdf", "scan0001.pdf")
    has(ines, 4, "Delivered as")
    folder = server.delivered / "renamed"
    (one,) = [path.name for path in folder.iterdir()]
    assert one.startswith("Dredgemoor") and f"{one.removesuffix('.pdf')}" in rows[0].replace("\n", " ")
    done = server.incoming / "renamed" / "done"
    ines.until((done / "scan0001.pdf").exists, "moved out of the folder")
    ines.press("a[href$='/withdraw']")
    ines.says("main", "They are taken out again where they were delivered to the folder renamed")
    assert ines.axe() == []
    ines.press("main .button")
    ines.until(lambda: not folder.exists() or not list(folder.iterdir()), "taken back")
    assert (done / "scan0001.pdf").read_bytes() == (INVOICES / "dredgemoor-01.pdf").read_bytes(), "as it came"


def test_4_a_list_that_grows(ines: AtTheBrowser, server: Server) -> None:
    lane = begin_lane(ines, "Balances")
    send(server, "balances", "First statement", "moewenbek-01.pdf")
    ines.until(lambda: "moewenbek-01" in (ines.open("/"), ines.text("main"))[1] or "Balances" in ines.text("main"))
    add(ines, lane, "sheet", folder="lists", file="balances.ods")
    name_columns(ines, "Account", "Balance", "On")
    ines.open(f"{lane}/messages")
    ines.until(lambda: "First statement" in (ines.open(f"{lane}/messages"), ines.text("main"))[1], "the message")
    assert ines.axe() == []
    ines.press("main table .button")
    ines.until(lambda: "would be delivered as" in ines.text("#trial"), "tried")
    ines.open(f"{lane}/destinations/sheet")
    tie(ines, Account="seller_name", Balance="grand_total", On="issue_date")
    ines.says("[data-column='Account']", "Möwenbek")
    ines.press(".said form[action$='/test'] .button")
    ines.says("#tried", "Account: Möwenbek")
    ines.says("#tried", "It was removed over there again: lists/balances.ods.")
    activate(ines, lane)
    send(server, "balances", "Second statement", "ostersiel-01.pdf")
    written = server.delivered / "lists" / "balances.ods"

    def rows() -> list[list[object]]:
        table = Document(io.BytesIO(written.read_bytes())).body.get_table(0)
        table.rstrip(aggressive=True)
        return [list(row) for row in table.get_values()]

    ines.until(lambda: written.exists() and len(rows()) == 2, "the row")
    heading, row = rows()
    assert heading == ["Document", "Account", "Balance", "On"] and str(row[1]).startswith("Ostersiel")


def send(server: Server, lane: str, subject: str, name: str) -> None:
    message = EmailMessage()
    message["From"], message["To"], message["Subject"] = "fees@grey-heron.example", f"{lane}@harbour.example", subject
    message["Message-ID"] = f"<{subject.replace(' ', '.')}@grey-heron.example>"
    message["Date"] = "Mon, 2 Nov 2026 09:00:00 +0000"
    message.set_content("See attached.\n")
    message.add_attachment((INVOICES / name).read_bytes(), maintype="application", subtype="pdf", filename=name)
    with smtplib.SMTP("127.0.0.1", server.smtp_port) as sender:
        sender.send_message(message)


def test_5_the_other_way_round(ines: AtTheBrowser, server: Server) -> None:
    board, key = (
        told(server, "board of cards is"),
        re.findall(r"/api/cards, with the key (\S+)", server.log.read_text())[0],
    )
    lane = begin_lane(ines, "Cards")
    ines.open(f"{lane}/calls")
    entered = (("address", f"{board}/api/cards"), ("state", "to be read"), ("secret", key))
    for name, text in entered:
        ines.type_at(f"[name={name}]", text)
    ines.press("main .settings .button")
    ines.says("body", "Say what its calls are signed with")
    ines.open(f"{lane}/calls")
    for name, text in (
        ("address", f"{board}/api/cards"),
        ("state", "to be read"),
        ("secret", key),
        ("signed_with", "sealed"),
    ):
        ines.type_at(f"[name={name}]", text)
    ines.press("main .settings .button")
    assert ines.axe() == []
    ines.open(f"{lane}/destinations")
    ines.press("[data-dialog=add-record]")
    for name, text in (("name", "Board"), ("address", f"{board}/api/cards"), ("secret", key)):
        ines.type_at(f"#add-record [name={name}]", text)
    Select(ines.one("#add-record [name=way]")).select_by_value("into_its_own")
    ines.press("#add-record .button")
    tie(ines, supplier="seller_name", amount="grand_total", number="invoice_number")
    ines.press("[data-how='state']")
    Select(ines.one("#how [name=source]")).select_by_value("fixed")
    ines.type_at("#how [name=always]", "read")
    ines.press("#how .button")
    tied(ines, "state", "always “read”")
    activate(ines, lane)

    ines.driver.get(board)
    ines.type_at("[name=address]", f"{server.address}/calls/cards")
    ines.type_at("[name=secret]", "sealed")
    ines.press("form[action='/told'] button")
    ines.type_at("[name=title]", "A bill that came")
    ines.type_at("[name=file]", str(INVOICES / "tarnwick-03.pdf"))
    ines.press("form[action='/cards'] button")
    Select(ines.one("#C-1 select")).select_by_visible_text("to be read")
    ines.press("#C-1 button")
    ines.until(lambda: "Tarnwick" in (ines.driver.get(board), ines.text("#C-1"))[1], "the card's columns")
    assert Select(ines.one("#C-1 select")).first_selected_option.text == "read"
    unsigned = httpx.post(f"{server.address}/calls/cards", json={"data": {"id": "C-1", "state": "to be read"}})
    assert unsigned.status_code == 401
    ines.open(f"{lane}/calls")
    ines.says("main table", "C-1")


def test_6_bad_days(ines: AtTheBrowser, server: Server) -> None:
    ledger = told(server, "ledger takes vouchers")
    httpx.post(f"{ledger}/misbehave", json=["refuse The period 2026-02 is closed.", "error after storing"])
    before = len(httpx.get(f"{ledger}/").text.split("<tr id"))
    lay_in(server, "supplier-invoices", "moewenbek-02.pdf")
    lay_in(server, "supplier-invoices", "tremarec-03.pdf")

    def both() -> bool:
        ines.open("/deliveries?lane=supplier-invoices&destination=ledger")
        return "The period 2026-02 is closed." in ines.text("main") and "answers 500" in ines.text("main")

    ines.until(both, "both told")
    assert ines.axe() == []
    ines.open("/")
    ines.says("#lane-supplier-invoices .by-destination", "1 not taken")
    ines.says("#lane-supplier-invoices .by-destination", "1 tried again later")
    assert ines.axe() == []
    ines.press("#lane-supplier-invoices .by-destination a")
    ines.press("main form[action='/deliveries/again'] .button")
    ines.until(lambda: "Everything that was to go was delivered." in (ines.open("/deliveries"), ines.text("main"))[1])
    ines.until(lambda: len(httpx.get(f"{ledger}/").text.split("<tr id")) == before + 2, "there once each")


def test_7_a_system_that_is_removed_can_be_put_back(ines: AtTheBrowser) -> None:
    ines.open(f"{LANE}/destinations/ledger")
    ines.press(".strip form[action$='/remove'] button")
    ines.until(lambda: "Ledger" not in ines.text(".goes"), "the ledger gone")
    ines.press(".strip form[action$='/undo'] button")
    ines.says(".goes", "Ledger")
    assert ines.axe() == []
