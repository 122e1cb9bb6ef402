"""Hull survey reports: ``python -m demo.hull_surveys``. Headed sections of prose that run over page breaks."""

from __future__ import annotations

import json
import random
from dataclasses import dataclass
from datetime import date, timedelta

from demo import scanning as scan
from demo.make import HERE, PAGES, Recipe, open_browser, print_page, scanned, written

OUT = HERE / "files" / "hull-surveys"
ROOM = 2450
"""Characters of prose that a page takes."""
VESSELS = ("Brine Petrel", "Saltmarsh 3", "Lady Corvane", "Holm Trader", "Marit of Quillon", "Tern")
SURVEYORS = ("Greta Lindqvist", "Piet Solander", "Odile Marchand")
PARTS = ("forepeak", "port bilge keel", "rudder stock", "transom", "starboard chine", "stern tube", "anchor pocket")
FLAWS = ("pitting to a depth of 2 mm", "coating breakdown over some 4 square metres",
         "a hairline crack at the weld toe",
         "fretting of the bearing bush", "wastage of the zinc anodes to a third", "fouling by barnacles and weed",
         "a set-in of the shell plating between frames")  # fmt: skip
ACTS = ("crop and renew the plating", "blast to bare metal and recoat",
        "gouge out, reweld and test by dye penetrant",
        "renew the bush", "renew all anodes", "clean by high-pressure water",
        "fair the plating and measure again")  # fmt: skip


@dataclass(frozen=True)
class Style:
    """How a surveyor's office sets its reports, and what it calls its sections."""

    font: str
    header: str
    caps: bool
    align: str
    sections: tuple[str, str, str, str]


STYLES = (
    Style("Liberation Serif", "12.5pt", False, "justify", ("Scope", "Findings", "Recommendations", "Remarks")),
    Style("Liberation Sans", "10pt", True, "left", ("General", "Results of inspection", "Recommended work", "Limits")),
    Style("DejaVu Serif", "11pt", False, "left", ("1. Purpose", "2. Findings", "3. Recommendations", "4. Signature")),
)


@dataclass(frozen=True)
class Report:
    """One report; ``texts`` are the paragraphs of its four sections."""

    number: str
    vessel: str
    day: str
    surveyor: str
    texts: tuple[tuple[str, ...], ...]
    style: Style

    @property
    def pages(self) -> list[list[tuple[str, str]]]:
        """Headings and paragraphs, page by page; a paragraph that does not fit is cut at a word."""
        pages: list[list[tuple[str, str]]] = [[("title", "Hull survey report")]]
        left = ROOM - 420
        for heading, paragraphs in zip(self.style.sections, self.texts, strict=True):
            if left < 300:
                pages.append([])
                left = ROOM
            pages[-1].append(("h", heading))
            left -= 90
            for paragraph in paragraphs:
                rest = paragraph
                while rest:
                    if left < 160:
                        pages.append([])
                        left = ROOM
                    part, rest = _cut(rest, left)
                    pages[-1].append(("p", part))
                    left -= len(part) + 60
        return pages


def _cut(text: str, room: int) -> tuple[str, str]:
    if len(text) <= room:
        return text, ""
    at = text.rfind(" ", 0, room)
    return text[:at], text[at + 1 :]


PILE = (
    (0, 1, "pdf", ()),
    (1, 2, "pdf-scan", (scan.soft, scan.skew(0.7))),
    (2, 3, "tif", (scan.soft, scan.skew(-0.5), scan.bilevel)),
    (0, 4, "pdf-scan", (scan.punched, scan.soft, scan.skew(-0.9))),
    (1, 5, "tif", (scan.fax,)),
    (2, 6, "pdf-scan", (scan.faint,)),
)


def draw(style: Style, seed: int) -> Report:
    """The ``seed``-th report of the pile; always the same one."""
    chance = random.Random(f"hull survey {seed}")
    day = date(2026, 2, 2) + timedelta(days=chance.randint(0, 240))

    def found(part: str) -> str:
        return (
            f"In way of the {part} there was {chance.choice(FLAWS)}. The extent was measured by ultrasonic gauge at "
            f"{chance.randint(6, 24)} points, the least thickness being {chance.randint(48, 92) / 10:.1f} mm against "
            f"{chance.randint(93, 120) / 10:.1f} mm as built. No sign of earlier repair could be seen, and the crew "
            "knew of no contact that would explain it."
        )

    def wanted(part: str) -> str:
        return (
            f"At the {part}, {chance.choice(ACTS)} before the vessel next leaves the basin; to be seen by us when done."
        )

    parts = chance.sample(PARTS, chance.randint(4, 6))
    scope = ("The vessel lay afloat at berth 7 and was then lifted; the shell was seen from a platform and by boat.",)
    remarks = ("This report is given without prejudice and speaks of the day of the visit only.",)
    return Report(
        number=f"HS-{chance.randint(300, 999)}", vessel=VESSELS[seed % len(VESSELS)], day=f"{day:%d.%m.%Y}",
        surveyor=chance.choice(SURVEYORS), texts=(scope, tuple(map(found, parts)), tuple(map(wanted, parts)), remarks),
        style=style,
    )  # fmt: skip


def truth(report: Report) -> dict[str, object]:
    findings, recommendations = ("\n".join(texts) for texts in report.texts[1:3])
    fields = {"report_number": report.number, "findings": findings, "recommendations": recommendations}
    return {"type": "hull-survey", "pages": len(report.pages), "fields": fields}


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    browser = open_browser()
    try:
        for style, seed, form, damage in PILE:
            report, name = draw(STYLES[style], seed), f"hull-survey-{seed:02d}"
            page = PAGES.get_template("hull-survey.html").render(doc=report, s=report.style)
            paper, recipe = print_page(page, browser), Recipe("survey", seed, 0, form, damage)
            data = paper if form == "pdf" else written(scanned(paper, recipe, name), recipe)
            target = OUT / f"{name}.{form.removesuffix('-scan')}"
            target.write_bytes(data)
            details = json.dumps(truth(report), indent=1, ensure_ascii=False)
            target.with_name(target.name + ".truth.json").write_text(details + "\n")
    finally:
        browser.quit()


if __name__ == "__main__":
    main()
