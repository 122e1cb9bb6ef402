"""The mooring inspection slips: ``python -m demo.inspection_slips``. One printed form, filled in partly by hand."""

from __future__ import annotations

import random
from dataclasses import dataclass
from datetime import date, timedelta

from demo import scanning as scan
from demo.make import HERE, PAGES, Recipe, keep_form, open_browser, print_page

OUT = HERE / "files" / "mooring-inspection-slips"
VESSELS = ("BRINE PETREL", "SALTMARSH 3", "LADY CORVANE", "HOLM TRADER", "TERN", "GREY DUNLIN", "ANNA WICK", "POMONA")
PEOPLE = ("Ilka Brandt", "Tomas Verrin", "Odile Marchand")
PARTS = ("Chain", "Shackle", "Buoy", "Sinker", "Swivel", "Pennant")
STATES = ("sound", "worn", "renew", "loose", "cleaned")
PILE = (
    ("pdf", ()), ("tif", (scan.soft, scan.skew(0.5))), ("pdf-scan", (scan.soft, scan.skew(-0.9))),
    ("tif", (scan.soft, scan.skew(0.3), scan.bilevel)), ("pdf-scan", (scan.punched, scan.soft)), ("jpg", (scan.soft,)),
    ("pdf-scan", (scan.faint,)), ("tif", (scan.fax,)),
)  # fmt: skip


@dataclass(frozen=True)
class Slip:
    """One slip: what was printed when it was handed out, and what was filled in on the quay."""

    number: str
    vessel: str
    berth: str
    seen: date
    depth: str
    chain: str
    buoy: str
    lifted: bool
    fit: bool
    inspector: str
    parts: tuple[tuple[str, str, str], ...]
    signature: str
    tilt: float

    def truth(self) -> dict[str, object]:
        return {
            "slip_no": self.number,
            "vessel": self.vessel,
            "berth": self.berth,
            "inspected_on": self.seen.isoformat(),
            "depth": self.depth,
            "chain": self.chain,
            "buoy_no": self.buoy,
            "lifted": "yes" if self.lifted else "no",
            "fit": "yes" if self.fit else "no",
            "inspector": self.inspector,
            "signed": "yes",
        }


def draw(at: int) -> Slip:
    """The ``at``-th slip, from 0; always the same one."""
    chance = random.Random(f"inspection slip {at}")
    strokes = " ".join(f"Q{x} {chance.randint(-4, 34)} {x + 7} {chance.randint(6, 24)}" for x in range(6, 104, 14))
    parts = chance.sample(PARTS, chance.randint(3, 5))
    return Slip(
        number=f"MI-{chance.randint(10000, 99999)}",
        vessel=VESSELS[at],
        berth=f"{chance.choice('ABCD')}{chance.randint(1, 28)}",
        seen=date(2026, 4, 1) + timedelta(days=chance.randint(0, 150)),
        depth=f"{chance.randint(18, 92) / 10:.1f}",
        chain=str(chance.randint(8, 40)),
        buoy=f"{chance.randint(100, 999)}",
        lifted=chance.random() < 0.5,
        fit=chance.random() < 0.7,
        inspector=chance.choice(PEOPLE),
        parts=tuple((part, chance.choice(STATES), str(chance.randint(1, 12))) for part in parts),
        signature=f"M0 20 {strokes}",
        tilt=round(chance.uniform(-1.2, 1.2), 1),
    )


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    browser = open_browser()
    try:
        for at, (form, damage) in enumerate(PILE):
            slip, name = draw(at), f"inspection-slip-{at + 1:02d}"
            printed = print_page(PAGES.get_template("inspection-slip.html").render(doc=slip), browser)
            truth = {"type": "mooring-inspection-slip", "pages": 1, "fields": slip.truth()}
            keep_form(printed, Recipe("slip", at, 0, form, damage), name, OUT, truth)
    finally:
        browser.quit()


if __name__ == "__main__":
    main()
