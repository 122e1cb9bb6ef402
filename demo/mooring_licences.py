"""The mooring licences: ``python -m demo.mooring_licences``. Contracts of six authors, of three of whom one teaches.

The first three are of three quite unlike layouts; of the ten further ones four are of these, six of other authors.
"""

from __future__ import annotations

import random
from dataclasses import dataclass
from datetime import date, timedelta

from demo import scanning as scan
from demo.make import HERE, PAGES, Recipe, keep_form, open_browser, print_page

OUT = HERE / "files" / "mooring-licences"
VESSELS = ("Brine Petrel", "Saltmarsh 3", "Lady Corvane", "Holm Trader", "Marit of Quillon", "Tern", "Grey Dunlin",
           "Ostrava Star", "Anna Wick", "Second Thought", "Kestrel of Estrel", "Sandling", "Pomona")  # fmt: skip
LICENSEES = ("Osprey Charter Ltd", "Corvane Yachts Ltd", "Tidewell Joinery Ltd", "Marchand & Fille SARL",
             "Solander Diving Ltd", "Wickfield Oysters Ltd", "Lindqvist Survey AB", "Holm Coasters Ltd",
             "Dunlin Sailing Club Ltd", "Verrin Towage Ltd", "Brandt Boatyard GmbH", "Pomona Ferries Ltd",
             "Estrel Sea School Ltd")  # fmt: skip
BOARD = "Quillon Harbour Board"
LICENSORS = {
    "marina": "Saltwick Marina Ltd", "letter": "Southwall Moorings Ltd", "schedule": "Estrel Basin Company Ltd",
}  # fmt: skip
PILE = (
    ("board", "pdf", ()), ("deed", "pdf-scan", (scan.soft, scan.skew(0.6))),
    ("form", "tif", (scan.soft, scan.skew(-0.8))), ("board", "pdf-scan", (scan.soft, scan.skew(-0.5))),
    ("deed", "pdf", ()), ("form", "pdf-scan", (scan.punched, scan.soft)),
    ("deed", "tif", (scan.fax,)), ("marina", "pdf", ()), ("marina", "pdf-scan", (scan.soft, scan.skew(1.1))),
    ("letter", "pdf", ()), ("letter", "tif", (scan.soft, scan.skew(-0.4), scan.bilevel)), ("schedule", "pdf", ()),
    ("schedule", "pdf-scan", (scan.faint,)),
)  # fmt: skip
"""By licence: whose layout, what file, and what befell it."""


@dataclass(frozen=True)
class Licence:
    """One licence as it was agreed."""

    layout: str
    number: str
    licensor: str
    licensee: str
    vessel: str
    berth: str
    made: date
    begins: date
    ends: date
    fee: int
    sublet: bool
    insured: bool
    signature: str

    @property
    def money(self) -> str:
        """The yearly fee as it is printed."""
        return f"{self.fee:,}.00"

    def truth(self) -> dict[str, str]:
        return {
            "licence_number": self.number,
            "licensor": self.licensor,
            "licensee": self.licensee,
            "vessel": self.vessel,
            "berth": self.berth,
            "begins": self.begins.isoformat(),
            "ends": self.ends.isoformat(),
            "yearly_fee": f"{self.fee}.00",
            "sublet": "yes" if self.sublet else "no",
            "insured": "yes" if self.insured else "no",
            "signed": "yes" if self.signature else "no",
        }


def draw(at: int) -> Licence:
    """The ``at``-th licence, from 0; always the same one."""
    chance, layout = random.Random(f"mooring licence {at}"), PILE[at][0]
    begins = date(2026, 1, 1) + timedelta(days=chance.randint(20, 330))
    strokes = " ".join(f"Q{x} {chance.randint(-4, 34)} {x + 7} {chance.randint(6, 24)}" for x in range(6, 104, 14))
    number = chance.randint(1000, 9999)
    return Licence(
        layout=layout,
        number={"board": f"ML-{number}", "deed": f"QHB/{number}/26", "form": f"M{number}", "marina": f"26-{number}",
                "letter": f"SW {number}", "schedule": f"L{number}/B"}[layout].replace(" ", "-"),
        licensor=LICENSORS.get(layout, BOARD),
        licensee=LICENSEES[at],
        vessel=VESSELS[at],
        berth=f"{chance.choice('ABCD')}{chance.randint(1, 28)}",
        made=begins - timedelta(days=chance.randint(5, 40)),
        begins=begins,
        ends=begins + timedelta(days=chance.choice((364, 729, 1094))),
        fee=chance.randint(90, 980) * 10,
        sublet=chance.random() < 0.5,
        insured=chance.random() < 0.7,
        signature="" if at == 5 else f"M0 20 {strokes}",
    )  # fmt: skip


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    browser = open_browser()
    try:
        for at, (_, form, damage) in enumerate(PILE):
            licence, name = draw(at), f"licence-{at + 1:02d}"
            printed = print_page(PAGES.get_template("mooring-licence.html").render(doc=licence), browser)
            truth = {"type": "mooring-licence", "pages": 1, "fields": licence.truth()}
            keep_form(printed, Recipe("licence", at, 0, form, damage), name, OUT, truth)
    finally:
        browser.quit()


if __name__ == "__main__":
    main()
