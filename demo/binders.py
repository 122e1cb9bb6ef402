"""Mixed binders of the harbour master, and samples to sort by: ``python -m demo.binders``.

Papers of six kinds as their senders word and lay them out, one after the other in one file without sheets between; a
binder of invoices only; and one in which a poem and a drawing lie. Beside each is the truth of its cuts and types.
"""

from __future__ import annotations

import json
import random
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path

import numpy as np
from selenium import webdriver

from demo import scanning as scan
from demo.invoices import BUYER, SUPPLIERS, draw
from demo.make import HERE, PAGES, Recipe, _before, open_browser, print_page, scanned, written

OUT = HERE / "files" / "binders"
SAMPLES = OUT / "samples"
VESSELS = ("Maren Tide", "Ostrava Star", "Brine Petrel", "Holm Trader", "Lady Corvane", "Saltmarsh 3", "Tern")
SENDERS = ("Corvane Towage", "Holm Shipping", "Brine & Sons, ship brokers", "Saltmarsh Marine Survey",
           "Tidewell Underwriters",
           "Estrel Port Reception")  # fmt: skip
PLACES = ("Quay 2, Quillon", "7 Net Loft Lane, Estrel", "Mole Street 14, Morvenna", "Custom House, Tidewell")
PEOPLE = ("Ilka Brandt", "Tomas Verrin", "Odile Marchand", "Piet Solander", "Greta Lindqvist")
FONTS = ("Liberation Sans", "DejaVu Serif", "Liberation Serif", "DejaVu Sans")
PROSE = (
    "While the vessel was being shifted along the quay the after spring parted and she swung against the fender.",
    "The pilot ordered the engine astern at once; the bow thruster did not answer for about half a minute.",
    "Nobody was hurt. The berth was closed for the afternoon and the fender was inspected from a boat.",
    "The master states that the line had been renewed in the spring and showed no wear when it was last looked at.",
    "The tug took the stern line and held the vessel off until she was fast again.",
    "Wind was from the west, gusting, with a short swell running into the inner basin.",
    "Visibility was good and the lights of the mole were burning.",
    "The tide had turned an hour before and was setting along the quay.",
    "The position is marked on the sketch that is kept with this paper.",
    "Two hands of the mooring gang saw the line part and have given their account.",
    "The harbour office was told by radio and sent the duty officer.",
    "A new line was brought out and the vessel doubled her moorings for the night.",
)
PARTS = ("Fender 12", "Shell plating, frame 41", "Bulwark rail", "Bollard 7", "Ladder", "Rubbing strake")
DAMAGES = ("dented", "torn", "scratched", "bent", "loose")
WASTES = ("Plastics", "Food wastes", "Oily bilge water", "Cooking oil", "Paper and card")
STATES = ("good", "serviceable", "to be renewed at the next docking")


@dataclass(frozen=True)
class Paper:
    """One paper of a binder."""

    kind: str
    pages: int
    number: str
    vessel: str
    sender: str
    place: str
    person: str
    day: str
    until: str
    length: str
    sum: str
    enclosed: int
    prose: list[str]
    rows: list[list[str]]
    font: str
    size: int
    footed: bool


def paper(kind: str, pages: int, vessel: str, seed: str) -> Paper:
    """The paper of that seed; always the same one."""
    chance = random.Random(f"binder {kind} {seed}")
    day = date(2026, 3, 1) + timedelta(days=chance.randint(0, 200))
    rows = [
        [part, chance.choice(DAMAGES), f"{day + timedelta(days=chance.randint(5, 60)):%d.%m.%Y}", chance.choice(STATES),
         chance.choice(WASTES), f"{chance.uniform(0.2, 9):.1f}"]
        for part in chance.sample(PARTS, chance.randint(3, 5))
    ]  # fmt: skip
    return Paper(
        kind=kind, pages=pages, number=f"{chance.choice('ABKR')}-{chance.randint(1000, 99999)}", vessel=vessel,
        sender=chance.choice(SENDERS), place=chance.choice(PLACES), person=chance.choice(PEOPLE), day=f"{day:%d.%m.%Y}",
        until=f"{day + timedelta(days=chance.randint(90, 700)):%d.%m.%Y}", length=f"{chance.uniform(9, 120):.1f}",
        sum=f"{chance.randint(2, 40)} 000 000", enclosed=chance.randint(3, 6),
        prose=chance.sample(PROSE, len(PROSE)), rows=rows,
        font=chance.choice(FONTS), size=chance.randint(14, 20), footed=chance.random() < 0.5,
    )  # fmt: skip


KINDS = (
    "cover-page",
    "incident-report",
    "survey-certificate",
    "application-for-berth",
    "waste-receipt",
    "insurance-letter",
)
MIXED = (
    ("cover-page", 1, 0), ("incident-report", 3, 0), ("survey-certificate", 2, 0), ("application-for-berth", 2, 0),
    ("cover-page", 1, 1), ("incident-report", 2, 1), ("survey-certificate", 1, 1), ("waste-receipt", 1, 1),
    ("insurance-letter", 1, 1), ("application-for-berth", 2, 1),
)  # fmt: skip
"""Kind, pages and vessel of each paper of the binder: sixteen pages."""
WITH_STRANGERS = (
    ("cover-page", 1, 2), ("application-for-berth", 2, 2), ("poem", 1, 2), ("waste-receipt", 1, 2), ("drawing", 1, 2),
    ("insurance-letter", 1, 3), ("incident-report", 2, 3),
)  # fmt: skip
INVOICES = (
    ("bight", 11, 3),
    ("tarnwick", 12, 4),
    ("dredgemoor", 13, 18),
    ("norrhavn", 14, 3),
    ("ostersiel", 15, 4),
    ("bight", 16, 5),
)
"""Supplier, seed and lines of each invoice of the binder; the third one has two pages."""
SAMPLE_PAGES = {
    "incident-report": (3, 2, 3, 2),
    "survey-certificate": (2, 1, 2, 2),
    "application-for-berth": (2, 2, 2, 1),
}


def main() -> None:
    SAMPLES.mkdir(parents=True, exist_ok=True)
    browser = open_browser()
    try:
        _binder("binder-01", MIXED, browser, (scan.soft, scan.skew(0.5), scan.bilevel))
        _binder("binder-03", WITH_STRANGERS, browser, (scan.soft, scan.skew(-0.6), scan.bilevel))
        _invoices("binder-02", browser)
        for kind in KINDS:
            for at in range(4):
                _sample(kind, at, browser)
    finally:
        browser.quit()
    total = sum(file.stat().st_size for file in OUT.rglob("*") if file.is_file())
    print(f"three binders and their samples, {total / 1e6:.1f} MB in {OUT}")


def _images(printed: bytes, name: str, damage: tuple[scan.Damage, ...]) -> list[np.ndarray]:
    return scanned(printed, Recipe(name, 1, 0, "tif", damage), name)


def _binder(
    name: str, papers: tuple[tuple[str, int, int], ...], browser: webdriver.Chrome, damage: tuple[scan.Damage, ...]
) -> None:
    images: list[np.ndarray] = []
    documents = []
    for number, (kind, pages, vessel) in enumerate(papers):
        html = PAGES.get_template("binder.html").render(paper=paper(kind, pages, VESSELS[vessel], f"{name} {number}"))
        printed = _images(print_page(html, browser), f"{name} {number}", damage)
        first = len(images) + 1
        images += printed
        told = "unknown" if kind in ("poem", "drawing") else kind
        documents.append({"type": told, "pages": list(range(first, len(images) + 1))})
    _keep(OUT / f"{name}.tif", written(images, Recipe(name, 1, 0, "tif", damage)), documents)


def _invoices(name: str, browser: webdriver.Chrome) -> None:
    images: list[np.ndarray] = []
    documents = []
    for key, seed, lines in INVOICES:
        supplier = next(one for one in SUPPLIERS if one.key == key)
        html = PAGES.get_template(f"{key}.html").render(
            doc=draw(supplier, seed, lines, False),
            s=supplier,
            buyer=BUYER,
            day=supplier.day,
            money=supplier.money,
            before=_before,
        )
        first = len(images) + 1
        images += _images(print_page(html, browser), f"{name} {seed}", (scan.soft, scan.skew(0.4), scan.bilevel))
        documents.append({"type": "supplier-invoice", "pages": list(range(first, len(images) + 1))})
    _keep(OUT / f"{name}.tif", written(images, Recipe(name, 1, 0, "tif", (scan.bilevel,))), documents)


def _keep(target: Path, data: bytes, documents: list[dict[str, object]]) -> None:
    target.write_bytes(data)
    truth = target.with_name(target.name + ".truth.json")
    truth.write_text(json.dumps({"documents": documents}, indent=1) + "\n")


def _sample(kind: str, at: int, browser: webdriver.Chrome) -> None:
    pages = SAMPLE_PAGES.get(kind, (1, 1, 1, 1))[at]
    html = PAGES.get_template("binder.html").render(paper=paper(kind, pages, VESSELS[3 + at], f"sample {at}"))
    printed = print_page(html, browser)
    folder = SAMPLES / kind
    folder.mkdir(exist_ok=True)
    if at == 0:
        (folder / f"{kind}-{at + 1}.pdf").write_bytes(printed)
        return
    damage = (scan.soft, scan.skew((-0.7, 0.4, 1.0)[at - 1]), scan.bilevel)
    images = _images(printed, f"{kind} {at}", damage)
    (folder / f"{kind}-{at + 1}.tif").write_bytes(written(images, Recipe(kind, 1, 0, "tif", damage)))


if __name__ == "__main__":
    main()
