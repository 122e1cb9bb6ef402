"""The vessel-call bundles of the Harbour Board: ``python -m demo.vessel_calls``. 45 sheets through a duplex feeder.

Three bundles, each under a printed cover sheet with vessel, year, month and berth in barcodes; before every document a
printed separator sheet of its kind. Both sides are scanned: backs are mostly empty, with the front showing through.
"""

from __future__ import annotations

import json
import random
import zlib
from dataclasses import dataclass
from datetime import date, timedelta

import cv2
import numpy as np
import pypdfium2 as pdfium

from demo import scanning as scan
from demo.make import HERE, PAGES, Recipe, open_browser, print_page, written
from zestpail.core.separation.printed_sheets import Sheet, cover_sheet, separator_sheet, sheets_pdf

OUT = HERE / "files" / "vessel-calls"
DPI, A4 = 200, (1654, 2339)
LANE = "vessel-calls"

KINDS = {
    "crew-list": ("Crew list", ("No.", "Name", "Rank", "Nationality"), 40),
    "stores-list": ("Ship's stores declaration", ("Item", "Quantity", "Place on board"), 12),
    "waste-receipt": ("Waste delivery receipt", ("Kind of waste", "Cubic metres"), 4),
    "pilot-ticket": ("Pilot ticket", ("From", "To", "Hours"), 2),
    "port-clearance": ("Port clearance", ("Due", "Paid"), 3),
    "cargo-manifest": ("Cargo manifest", ("Bill", "Goods", "Packages", "Tonnes"), 34),
    "health-declaration": ("Maritime declaration of health", ("Question", "Answer"), 9),
}
WORDS = {
    "Name": ("Tamm, V.", "Okoro, J.", "Lindqvist, A.", "Moreau, P.", "Reyes, C.", "Halvorsen, T."),
    "Rank": ("Master", "Mate", "Bosun", "Engineer", "Cook", "Seaman"),
    "Nationality": ("XQ", "XV", "XN"),
    "Item": ("Lubricating oil", "Paint", "Provisions", "Spirits", "Tobacco", "Medical stores"),
    "Place on board": ("Bond locker", "Forepeak", "Galley", "Engine room"),
    "Kind of waste": ("Plastics", "Food wastes", "Oily bilge water", "Cooking oil"),
    "From": ("Pilot station", "Outer roads"),
    "To": ("Quay 2", "Inner basin"),
    "Due": ("Light dues", "Berth dues", "Tonnage tax"),
    "Goods": ("Sawn timber", "Machine parts", "Paper reels", "Fertiliser in bags"),
    "Question": ("Any person ill on board?", "Any death on the voyage?", "Stowaways found?", "Sick animals on board?"),
    "Answer": ("No", "No", "Yes"),
}
CALLS = (
    ("Maren Tide", "2026", "03", "B7", ("crew-list", "stores-list", "waste-receipt", "pilot-ticket", "cargo-manifest",
                                        "port-clearance", "health-declaration")),
    ("Ostrava Star", "2026", "04", "A2", ("crew-list", "waste-receipt", "pilot-ticket", "port-clearance",
                                          "cargo-manifest")),
    ("Brine Petrel", "2026", "04", "C11", ("crew-list", "stores-list", "pilot-ticket", "waste-receipt",
                                           "port-clearance", "health-declaration")),
)  # fmt: skip


@dataclass(frozen=True)
class Paper:
    """One document of a bundle."""

    kind: str
    number: str
    day: date
    vessel: str
    rows: list[list[str]]

    @property
    def title(self) -> str:
        return KINDS[self.kind][0]

    @property
    def headings(self) -> tuple[str, ...]:
        return KINDS[self.kind][1]

    def truth(self) -> dict[str, object]:
        return {"type": self.kind, "number": self.number, "date": self.day.isoformat(), "vessel": self.vessel}


def draw(kind: str, call: int) -> Paper:
    """That document of that call; always the same one."""
    chance = random.Random(f"vessel call {call} {kind}")
    vessel, year, month, *_ = CALLS[call]
    long = 30 if (kind, call) == ("cargo-manifest", 0) else 0
    headings, count = KINDS[kind][1], KINDS[kind][2] + chance.randint(-1, 2) + long

    def cell(heading: str, at: int) -> str:
        if heading == "No.":
            return str(at + 1)
        if heading in WORDS:
            return chance.choice(WORDS[heading])
        return f"{chance.uniform(1, 60):.1f}" if heading in ("Cubic metres", "Tonnes") else str(chance.randint(1, 240))

    return Paper(
        kind=kind,
        number=f"QH-{chance.randint(1000, 9999)}",
        day=date(int(year), int(month), 1) + timedelta(days=chance.randint(0, 27)),
        vessel=vessel,
        rows=[[cell(heading, at) for heading in headings] for at in range(count)],
    )


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    browser = open_browser()
    sides: list[np.ndarray] = []
    documents: list[dict[str, object]] = []
    try:
        for call, (vessel, year, month, berth, kinds) in enumerate(CALLS):
            given = {"vessel": vessel, "year": year, "month": month, "berth": berth}
            sides += _both_sides(_printed_sheet(cover_sheet(list(given.items()))), len(sides))
            for kind in kinds:
                paper = draw(kind, call)
                sides += _both_sides(_printed_sheet(separator_sheet(kind, paper.title)), len(sides))
                html = PAGES.get_template("vessel-call.html").render(paper=paper, berth=berth)
                printed = list(pdfium.PdfDocument(print_page(html, browser)))
                first = len(sides)
                for page in printed:
                    sides += _both_sides(_picture(page), len(sides))
                documents.append({**paper.truth(), "given": given, "first_side": first, "pages": len(printed)})
    finally:
        browser.quit()
    recipe = Recipe("vessel", 1, 0, "tif", (scan.bilevel,))
    target = OUT / "vessel-calls-01.tif"
    target.write_bytes(written(sides, recipe))
    truth = {"lane": LANE, "sides": len(sides), "bundles": len(CALLS), "documents": documents}
    target.with_name(target.name + ".truth.json").write_text(json.dumps(truth, indent=1, ensure_ascii=False) + "\n")
    print(f"{len(sides)} sides, {len(documents)} documents, {target.stat().st_size / 1e6:.1f} MB")


def _printed_sheet(sheet: Sheet) -> np.ndarray:
    return _picture(next(iter(pdfium.PdfDocument(sheets_pdf([sheet])))))


def _picture(page: pdfium.PdfPage) -> np.ndarray:
    image = np.array(page.render(scale=DPI / 72, rev_byteorder=True).to_numpy()[:, :, :3])
    return cv2.resize(cv2.cvtColor(image, cv2.COLOR_RGB2GRAY), A4, interpolation=cv2.INTER_AREA)


def _both_sides(front: np.ndarray, at: int) -> list[np.ndarray]:
    """Front and back of a sheet as the feeder scans them: a little crooked, with dust, sometimes punched."""
    chance = np.random.default_rng(zlib.crc32(f"vessel call side {at}".encode()))
    back = scan.back_of(front, chance)
    done = []
    for clean, damages in ((front, (scan.soft, scan.skew(float(chance.uniform(-1.2, 1.2))))), (back, (scan.dusty,))):
        side = clean
        for damage in (*damages, *((scan.punched,) if at % 6 == 0 else ()), scan.bilevel):
            side = damage(side, chance)
        done.append(side)
    return done


if __name__ == "__main__":
    main()
