"""Takes the pictures of ``docs/screenshots`` of a fresh demo: ``python -m tests.browser.pictures ADDRESS [LEDGER]``.

Without the ledger's address (``http://127.0.0.1:PORT``, told by the demo) it is looked for where it mostly is.
"""

from __future__ import annotations

import sys
from functools import partial
from pathlib import Path

from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import open_browser
from tests.browser.person import AtTheBrowser
from tests.conftest import DEMO

LEDGER, KEY = "http://127.0.0.1:8637", "quillon-ledger"
"""Where the demo has its ledger if nothing else is there, and what opens it."""
NOTES = DEMO.parent / "fuel-delivery-notes"
OUT = Path(__file__).parents[2] / "docs" / "screenshots"
DROPPED = (
    "bight-04.pdf", "hallig-02.pdf", "norrhavn-03.tif", "brevanne-01.pdf", "tarnwick-01.jpg", "dredgemoor-01.pdf",
    "bight-02.pdf", "norrhavn-01.pdf",
)  # fmt: skip


def main(address: str, ledger: str = LEDGER) -> None:
    ines = AtTheBrowser(open_browser(), address)
    try:
        ines.sign_in("ines")
        files = [str(DEMO / name) for name in DROPPED]
        ines.type_at("input[type=file]", "\n".join([*files, str(Path(__file__))]))
        ines.until(lambda: "delivered" in ines.text(".standing"), seconds=900)
        ines.until(
            lambda: not any(w in ines.text(".standing") for w in ("being read", "waiting for delivery")), seconds=900
        )
        take(ines, "today")
        ines.open("/review")
        take(ines, "review")
        ines.open("/batches/1")
        take(ines, "batch")
        waiting(ines)
        found_again(ines)
        tables(ines)
        stacks(ines)
        bench(ines)
        teaching(ines)
        sorting(ines)
        records(ines, ledger)
        suppliers(ines, ledger)
    finally:
        ines.driver.quit()


def stacks(ines: AtTheBrowser) -> None:
    """A lane's letter with a trial run on bundles, and their ribbon."""
    stack = DEMO.parent / "vessel-calls" / "vessel-calls-01.tif"
    ines.open("/lanes/vessel-calls")
    ines.type_at("#trial input[type=file]", str(stack))
    ines.until(lambda: "would be delivered as" in ines.text("#trial"), seconds=900)
    take(ines, "lane")
    ines.open("/")
    ines.type_at("#lane-vessel-calls input[type=file]", str(stack))
    ines.until(lambda: "18 delivered" in ines.text(".batches"), seconds=900)
    ines.open("/batches/3/ribbon")
    take(ines, "ribbon")
    large_page(ines)


def _kept(ines: AtTheBrowser, key: str, many: int) -> bool:
    return len(ines.all(f"#row-{key} .sample-card")) == many


def sorting(ines: AtTheBrowser) -> None:
    """The sorting table with one sample on the wrong type, and a document in doubt."""
    folder = DEMO.parent / "binders"
    ines.open("/lanes/harbour-binders/sorting")
    for place in sorted((folder / "samples").iterdir()):
        Select(ines.one("section.begin select[name=type]")).select_by_value(place.name)
        ines.press("section.begin form .button")
        files = sorted(place.iterdir())
        if place.name == "cover-page":
            files.append(DEMO.parent / "berth-applications" / "berth-application-07.pdf")
        ines.type_at(f"#row-{place.name} input[type=file]", "\n".join(map(str, files)))
        ines.until(partial(_kept, ines, place.name, len(files)))
    ines.until(lambda: "23 of 25" in ines.text(".summary") or "24 of 25" in ines.text(".summary"), seconds=300)
    take(ines, "sorting")
    ines.press(".sample-card.wrong button[formaction$='/remove']")
    ines.says(".summary", "24 of 24")
    ines.press(".strip form[action$='put-in-force'] .button")
    ines.one(".sentences-of-lane")
    ines.open("/")
    ines.type_at("#lane-harbour-binders input[type=file]", str(folder / "binder-03.tif"))
    ines.until(lambda: "need you" in ines.text("#lane-harbour-binders"), seconds=300)
    ines.open("/review?lane=harbour-binders")
    ines.one(".question-place")
    take(ines, "what-is-it")


def waiting(ines: AtTheBrowser) -> None:
    """What waits as one sheet."""
    ines.open("/sheets/batch/1")
    ines.says(".sheet-rows", "norrhavn-03.tif")
    ines.press(".sheet-cell.needs")
    ines.one(".sheet-close img")
    take(ines, "batch-sheet")


def found_again(ines: AtTheBrowser) -> None:
    """A word in the archive, and the first document that has it in the reading room."""
    ines.open("/archive?words=quillon")
    take(ines, "archive")
    ines.press("main a[href*='/archive/documents/']")
    ines.one("#hit-at")
    take(ines, "reading-room")


def suppliers(ines: AtTheBrowser, ledger: str) -> None:
    """What the ledger knows of suppliers, as a list that papers are looked up in."""
    ines.open("/lists")
    add = ".begin form:nth-of-type(2)"
    for name, text in (("name", "Suppliers"), ("address", f"{ledger}/api/suppliers"), ("secret", KEY)):
        ines.type_at(f"{add} [name={name}]", text)
    ines.press(f"{add} .button")
    ines.says(".strip", "300 entries")
    take(ines, "reference-list")


def records(ines: AtTheBrowser, ledger: str) -> None:
    """What goes into which column of the demo's ledger, with one document's values at both ends."""
    ines.open("/lanes/supplier-invoices/destinations")
    ines.press("[data-dialog=add-record]")
    for name, text in (("name", "Ledger"), ("address", f"{ledger}/api/vouchers"), ("secret", KEY)):
        ines.type_at(f"#add-record [name={name}]", text)
    ines.press("#add-record .button")
    pairs = {
        "seller_name": "supplier", "seller_vat_id": "supplier_vat", "invoice_number": "number", "issue_date": "date",
        "due_date": "due", "currency": "currency", "grand_total": "total", "lines/description": "lines/text",
    }  # fmt: skip
    for ours, column in pairs.items():
        ines.press(f"[data-ours='{ours}']")
        ines.press(f"[data-column='{column}']")
        ines.until(partial(_tied, ines, column))
    take(ines, "mapping")


def _tied(ines: AtTheBrowser, column: str) -> bool:
    return bool(ines.all(f".used[data-column='{column}']"))


def large_page(ines: AtTheBrowser) -> None:
    """A page of the statement in full size, with a place blacked out and a note."""
    ines.open("/batches/2/ribbon")
    ines.type_at(".tile", Keys.ENTER)
    ines.one(".whole-page img")
    ines.until(lambda: ines.driver.execute_script(PICTURES_ARE_THERE))
    edge = ines.one(".whole-page img").rect

    def drawn(tool: str, left: float, top: float, right: float, bottom: float) -> None:
        ines.press(f"[data-tool='{tool}']")
        x, y, wide, high = (edge[side] for side in ("x", "y", "width", "height"))
        ines.drag((x + left * wide, y + top * high), (x + right * wide, y + bottom * high))

    drawn("highlight", 0.72, 0.235, 0.93, 0.26)
    ines.until(lambda: "highlighted" in ines.text(".notes"))
    drawn("note", 0.34, 0.27, 0.55, 0.3)
    ines.keys("Ask for the delivery note of this one", Keys.ENTER)
    ines.until(lambda: "Ask for" in ines.text(".notes"))
    drawn("black out", 0.3, 0.955, 0.66, 0.975)
    ines.until(lambda: "blacked out" in ines.text(".done"), seconds=900)
    take(ines, "page")


def tables(ines: AtTheBrowser) -> None:
    """A statement on the review desk, what goes of its rows, and a table drawn at the bench."""
    statement = DEMO.parent / "supplier-statements" / "statement-moewenbek-06.tif"
    ines.open("/")
    ines.type_at("#lane-supplier-statements input[type=file]", str(statement))
    ines.until(lambda: ines.text("#lane-supplier-statements .calls b") == "1", seconds=900)
    ines.open("/batches/2")
    ines.press("#contents a[href*='/review/']")
    ines.until(lambda: ines.driver.execute_script(PICTURES_ARE_THERE))
    ines.keys("t")
    ines.one(".desk.tall .divider")
    shown = "return [...document.querySelectorAll('.drawer .row.doubtful img')].every((i) => i.naturalWidth)"
    ines.until(lambda: ines.driver.execute_script(shown))
    take(ines, "table")
    ines.open("/lanes/supplier-statements/rows")
    take(ines, "rows")
    ines.open("/types")
    ines.type_at("#name", "Account statement", Keys.ENTER)
    ines.until(lambda: "/types/" in ines.driver.current_url)
    place = "/types/" + ines.driver.current_url.rsplit("/", 1)[1]
    files = [statement.with_name(name) for name in ("statement-brevanne-03.pdf", "statement-tarnwick-05.tif")]
    ines.type_at(".samples input[type=file]", "\n".join(map(str, files)))
    ines.until(lambda: "of 2:" in ines.text(".strip"), seconds=900)
    ines.open(place)
    ines.until(lambda: ines.driver.find_elements("css selector", ".sheet[data-words]"))
    left, top, _, _ = ines.word("Pièce")
    _, _, right, _ = ines.word("Solde", 1)
    _, bottom, _, _ = ines.word("reporter")
    ines.keys("t")
    ines.drag((left - 5, top - 4), (right + 6, bottom - 3))
    ines.one("#card-table")
    take(ines, "bench-table")


def bench(ines: AtTheBrowser) -> None:
    """A type made on six fuel notes: the bench, its settings, the proof sheet, two revisions."""
    ines.open("/types")
    ines.type_at("#name", "Fuel delivery note", Keys.ENTER)
    ines.until(lambda: "/types/" in ines.driver.current_url)
    bench = "/types/" + ines.driver.current_url.rsplit("/", 1)[1]
    notes = sorted(path for path in NOTES.iterdir() if path.suffix != ".json")[:6]
    ines.type_at(".samples input[type=file]", "\n".join(map(str, notes)))
    ines.until(lambda: "of 6:" in ines.text(".strip"), seconds=900)
    ines.open(bench)
    ines.until(lambda: ines.driver.find_elements("css selector", ".sheet[data-words]"))
    for word in ("FD-59119", "18.02.2026", "C14", "AC-6150"):
        ines.keys("f")
        ines.click(ines.middle(word))
        ines.settled_down()
    ines.keys("l")
    ines.click(ines.middle("Received"))
    ines.settled_down()
    _, _, right, bottom = ines.word("Complaints")
    ines.keys("f")
    ines.click((right + 140, bottom - 38))
    ines.one("#card-barcode")
    ines.press('.samples [title="fuel-note-03.jpg"]')
    ines.until(lambda: "fuel-note-03" in ines.text(".strip"))
    ines.press("[data-key=ticket_no] .line")
    ines.until(lambda: ines.active() == "ticket_no")
    ines.click(ines.middle("FD-81660"))
    ines.one(".offers button")
    take(ines, "bench")
    ines.press("#card-ticket_no [data-setting='beside_label.labels']")
    ines.press("#settings .button")
    ines.keys("1")
    ines.until(lambda: not ines.driver.find_elements("css selector", ".offers"))
    revised(ines, bench)
    ines.open("/types")
    take(ines, "types")
    starter(ines)


READ_WRONGLY = "licence-06"
"""Labels are confirmed here as they are read, and one of this licence is not right untaught."""


def teaching(ines: AtTheBrowser) -> None:
    """Fields proposed on one slip; licences asked three questions, learned from, and measured."""
    begun(ines, "Mooring inspection slip", [DEMO.parent / "mooring-inspection-slips" / "inspection-slip-01.pdf"])
    ines.one(".proposal.chosen")
    take(ines, "proposals")
    folder = DEMO.parent / "mooring-licences"
    files = [path for path in sorted(folder.iterdir()) if path.suffix != ".json" and path.stem != READ_WRONGLY]
    place = begun(ines, "Mooring licence", files)
    ines.keys("q")
    asked = ("Until when may the vessel lie there?", "What is the yearly fee?", "May the berth be sublet?")
    ines.type_at("#asking textarea", "\n".join(asked))
    ines.press("#asking .button")
    ines.until(lambda: len(ines.all("#margins .margin.right .card:not(.proposal)")) == len(asked))
    ines.open(f"{place}/sheet")
    for left in range(len(asked), 0, -1):
        ines.until(partial(_rows_to_confirm, ines, left))
        ines.press(".names [data-cells]")
    ines.until(partial(_rows_to_confirm, ines, 0))
    ines.open(f"{place}/learning")
    ines.press("form[action$='/keep-apart'] .button")
    ines.until(lambda: "For testing only: 0" not in ines.text("main"))
    ines.open(place)
    ines.until(lambda: ines.all(".sheet[data-words]"))
    ines.keys("n")
    ines.says("#toast", "Learning 1")
    ines.open(place.replace("/types/", "/quality/"))
    take(ines, "quality")


def _rows_to_confirm(ines: AtTheBrowser, many: int) -> bool:
    return len(ines.all(".names [data-cells]")) == many


def begun(ines: AtTheBrowser, name: str, files: list[Path]) -> str:
    """A type with these samples, read; returns where its bench is."""
    ines.open("/types")
    ines.type_at("#name", name, Keys.ENTER)
    ines.one(".no-sample")
    ines.type_at(".samples input[type=file]", "\n".join(map(str, files)))
    ines.until(lambda: len(str(ines.one("#margins").get_attribute("data-samples")).split()) == len(files), seconds=900)
    return "/types/" + ines.driver.current_url.rsplit("/", 1)[1]


def revised(ines: AtTheBrowser, bench: str) -> None:
    """Two revisions compared, and the proof sheet."""
    ines.open(f"{bench}/revisions")
    ines.type_at("#note", "first", Keys.ENTER)
    ines.until(lambda: "first" in ines.text("table"))
    ines.open(f"{bench}?field=date")
    ines.press("#card-date [data-setting=kind]")
    ines.press("#settings input[name='beside_label.directions'][value=below]")
    ines.press("#settings .button")
    ines.settled_down()
    ines.open(f"{bench}/revisions?one=1")
    take(ines, "revisions")
    ines.open(f"{bench}/sheet")
    take(ines, "sheet")


def starter(ines: AtTheBrowser) -> None:
    """A starter looked at and tried on a berth application."""
    ines.open("/types/starters/application-form")
    form = NOTES.parent / "berth-applications" / "berth-application-07.pdf"
    ines.until(lambda: (ines.type_at("#tries input[type=file]", str(form)), True)[1])
    ines.one(".tried-values")
    take(ines, "starter")


PICTURES_ARE_THERE = (
    "return [...document.querySelectorAll('img')].every((i) => (i.complete && i.naturalWidth) || "
    "i.getBoundingClientRect().height === 0 || i.getBoundingClientRect().top > innerHeight)"
)


DRAWN = (
    "const done = arguments[0]; Promise.all([...document.images].filter((i) => i.complete).map((i) => i.decode()"
    ".catch(() => 0))).then(() => requestAnimationFrame(() => requestAnimationFrame(() => done())))"
)
"""A picture that came is drawn a moment later."""


def take(person: AtTheBrowser, name: str) -> None:
    person.until(lambda: person.driver.execute_script(PICTURES_ARE_THERE), f"the pictures of {name}")
    person.driver.execute_async_script(DRAWN)
    person.driver.save_screenshot(str(OUT / f"{name}.png"))


if __name__ == "__main__":
    main(*sys.argv[1:])
