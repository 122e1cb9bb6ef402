"""The fuel delivery notes of the Harbour Board: ``python -m demo.fuel_notes``. Two forms, filled in by hand."""

from __future__ import annotations

import random
import re
from dataclasses import dataclass
from datetime import date, timedelta

import zxingcpp

from demo import scanning as scan
from demo.make import HERE, PAGES, Recipe, keep_form, open_browser, print_page

OUT = HERE / "files" / "fuel-delivery-notes"
VESSELS = ("Marit of Quillon", "Brine Petrel", "Ostrava Star", "Saltmarsh 3", "Lady Corvane", "Tern")


@dataclass(frozen=True)
class Note:
    """One delivery note as printed and filled in."""

    form: str
    ticket_label: str
    ticket: str
    day: date
    vessel: str
    berth: str
    account: int
    pump: int
    product: str
    litres: str
    meter: int
    tank: int
    tilt: float
    stamp_top: int

    @property
    def barcode(self) -> str:
        """What the new form has in bars: ticket and account."""
        return f"{self.ticket}*AC-{self.account}" if self.form == "new" else ""

    @property
    def printed_day(self) -> str:
        return f"{self.day:%d.%m.%Y}"

    def truth(self) -> dict[str, str]:
        return {
            "ticket_no": self.ticket,
            "date": self.day.isoformat(),
            "vessel": self.vessel,
            "delivered": self.litres.replace(",", "").replace(" ", ""),
            "tank": f"TANK {self.tank}",
        }


PILE = (
    ("new", "Ticket no.", "tif", (scan.soft, scan.skew(0.7))),
    ("new", "Ticket no.", "pdf-scan", (scan.soft, scan.skew(-1.2))),
    ("old", "Docket", "jpg", (scan.soft, scan.skew(0.4))),
    ("new", "Ticket no.", "jpg", (scan.coffee, scan.soft)),
    ("new", "Ticket no.", "tif", (scan.soft, scan.skew(1.9), scan.bilevel)),
    ("new", "Ticket no.", "pdf", ()),
    ("old", "Docket", "pdf-scan", (scan.punched, scan.soft, scan.skew(-0.5))),
    ("new", "Ticket no.", "jpg", (scan.faint,)),
)


def draw(at: int) -> Note:
    """The ``at``-th note of the pile; always the same one."""
    chance, (form, label, _, _) = random.Random(f"fuel note {at}"), PILE[at]
    return Note(
        form=form,
        ticket_label=label,
        ticket=f"FD-{chance.randint(100, 99999)}",
        day=date(2026, 2, 2) + timedelta(days=chance.randint(0, 200)),
        vessel=VESSELS[at % len(VESSELS)],
        berth=f"{chance.choice('ABC')}{chance.randint(1, 14)}",
        account=chance.randint(1000, 9999),
        pump=chance.randint(1, 6),
        product=chance.choice(("Marine gas oil", "Petrol 95", "Heating oil EL")),
        litres=f"{chance.randint(80, 9000):,}",
        meter=chance.randint(100_000, 999_999),
        tank=chance.randint(1, 9),
        tilt=round(chance.uniform(-3, 3), 1),
        stamp_top=chance.randint(120, 135),
    )


def code_128(text: str) -> str:
    """The bars as a drawing to put into a page, stretched to the place it is put in."""
    drawn = zxingcpp.write_barcode_to_svg(zxingcpp.create_barcode(text, zxingcpp.BarcodeFormat.Code128))
    svg = drawn[drawn.index("<svg") :]
    return re.sub(r'width="(\d+)" height="(\d+)"', r'viewBox="0 0 \1 \2" preserveAspectRatio="none"', svg, count=1)


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    browser = open_browser()
    try:
        for at, (_, _, form, damage) in enumerate(PILE):
            note, name = draw(at), f"fuel-note-{at + 1:02d}"
            bars = code_128(note.barcode) if note.barcode else ""
            printed = print_page(PAGES.get_template("fuel-note.html").render(note=note, bars=bars), browser)
            truth = {"type": "fuel-delivery-note", "pages": 1, "fields": note.truth()}
            keep_form(printed, Recipe("fuel", at, 0, form, damage), name, OUT, truth)
    finally:
        browser.quit()


if __name__ == "__main__":
    main()
