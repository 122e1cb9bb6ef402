"""Makes the papers of every starter: ``python -m tests.strangers.make_papers FOLDER``, or on demand by the tests."""

from __future__ import annotations

import base64
import random
import sys
import zlib
from datetime import date, timedelta
from decimal import Decimal
from pathlib import Path

from jinja2 import Environment
from markupsafe import Markup
from selenium import webdriver

from demo import scanning as scan
from tests.browser.conftest import open_browser
from tests.strangers.make import FIRST, POOR, SECOND, STREETS, _iban, _written, page_images, saved
from tests.strangers.papers import PAPERS, Paper
from tests.strangers.templates import FONTS, HEADS, META

LANGUAGES = ("en", "de", "fr", "en")
FORMS = ("born", "grey", "grey", "poor")
HALVES = (
    (("left", "centre", "right"), ("rows", "colons", "heads")),
    (("band", "split", "small"), ("boxes", "wide", "dotted")),
)
LEGAL = {"en": "Ltd", "de": "GmbH", "fr": "SARL"}
DATES = {"en": ("d B Y", "%d/%m/%Y"), "de": ("%d.%m.%Y", "d. B Y"), "fr": ("%d/%m/%Y", "d B Y")}
MARKS = {"en": ",.", "de": ".,", "fr": " ,"}
PEOPLE = ("Ilka Brandt", "Tomas Verrin", "Odile Marchand", "Piet Solander", "Greta Lindqvist")
WORDS = {
    "payment": ("Card", "Cash", "Bank card"),
    "notice": ("three months", "6 months to the end of a year", "four weeks"),
    "object": ("Tower crane TK 40", "Fire pump 2", "Gangway ladder", "Boiler plant B"),
    "place": ("North shed, bay 3", "Inner dock", "Workshop 7"),
    "result": ("passed without defects", "passed with minor defects", "good", "failed"),
    "standard": ("ISO 9001:2015", "EN 1090-2", "ISO 14001:2015"),
    "scope": ("Design and repair of deck equipment", "Storage and handling of timber and of steel"),
}
GOODS = {"en": "Brass hinge", "de": "Schraube M8", "fr": "Tuyau cuivre"}
PROSE = {
    "en": "The undersigned have read the general terms, which form part of this paper. Copies are kept by both sides.",
    "de": "Die allgemeinen Bedingungen sind Teil dieses Schriftstücks. Beide Seiten erhalten eine Ausfertigung.",
    "fr": "Les conditions générales font partie de ce document. Chaque partie en conserve un exemplaire.",
}
PAGE = """<!doctype html><meta charset="utf-8"><style>
@page{size:A4;margin:16mm 18mm} body{font:{{ size }}pt "{{ font }}"} table{border-collapse:collapse}
.meta td{padding:.9mm 6mm .9mm 0;vertical-align:top} .grid th{background:#eee;font-weight:normal;font-size:8.5pt;text-align:left}
.grid th,.grid td{border:1px solid #777;padding:1.2mm 2mm;vertical-align:top} .grid{margin-bottom:3mm}
.lines{width:100%;margin:8mm 0} .lines td{padding:1.2mm 0;border-bottom:1px solid #bbb} .n{text-align:right}
</style>{{ header }}<h1 style="font-size:15pt;font-weight:normal;margin-top:9mm">{{ title }}</h1>{{ meta }}{{ body }}"""


class Chance(random.Random):
    """Random values of every sort, each with how it is printed and what is true of it."""

    def firm(self, language: str) -> str:
        return f"{self.choice(FIRST)} {self.choice(SECOND)} {LEGAL[language]}"

    def values(self, paper: Paper, language: str, half: int) -> dict[str, tuple[str, str]]:
        """By field what is printed and the truth."""
        start = date(2026, 1, 5) + timedelta(days=self.randint(0, 200))
        net = Decimal(self.randint(4000, 900000)) / 100
        tax = (net / 5).quantize(Decimal("0.01"))
        weight = Decimal(self.randint(200, 90000)) / 10
        days = {
            "early": -self.randint(8000, 20000),
            "date": 0,
            "later": self.randint(6, 40),
            "last": self.randint(200, 900),
        }
        amounts = {"net": net, "tax": tax, "gross": net + tax}
        style = DATES[language][half]
        found: dict[str, tuple[str, str]] = {}
        for slot in paper.slots:
            sort, _, prefix = slot.sort.partition(" ")
            if sort in days:
                day = start + timedelta(days=days[sort])
                found[slot.key] = (_written(day, style, language), day.isoformat())
            elif sort in amounts or sort == "amount":
                amount = amounts.get(sort) or Decimal(self.randint(1000, 5000000)) / 100
                found[slot.key] = (_number(f"{amount:,.2f}", language), f"{amount:.2f}")
            elif sort == "kg" or slot.sort == "more kg":
                weight = weight if sort == "kg" else weight + 14
                found[slot.key] = (_number(f"{weight:,.1f}", language) + " kg", f"{weight.normalize():f}")
            else:
                found[slot.key] = self._text(sort, prefix, language)
        return found

    def _text(self, sort: str, prefix: str, language: str) -> tuple[str, str]:
        if sort in WORDS:
            text = self.choice(WORDS[sort])
        elif sort == "address":
            lines = (self.choice(STREETS), f"{self.randint(10000, 99999)} {self.choice(FIRST)}")
            return "<br>".join(lines), "\n".join(lines)
        elif sort == "iban":
            text = _iban(self, "XQ")
            return text, text.replace(" ", "")
        elif sort == "phone":
            text = f"+999 {self.randint(10, 99)} {self.randint(100000, 999999)}"
            return text, text.replace(" ", "")
        else:
            text = {
                "code": f"{prefix}-{self.randint(1000, 99999)}",
                "digits": str(self.randint(10000, 99999)),
                "slash": f"{self.randint(1, 12)}/2026",
                "count": str(self.randint(2, 60)),
                "firm": self.firm(language),
                "person": self.choice(PEOPLE),
                "email": f"{self.choice(FIRST).lower()}@{self.choice(SECOND).lower()}.example",
            }[sort]
        return text, text


def _number(english: str, language: str) -> str:
    thousands, point = MARKS[language]
    return english.replace(",", "\0").replace(".", point).replace("\0", thousands)


def printed(
    paper: Paper, name: str, language: str, half: int, browser: webdriver.Chrome
) -> tuple[bytes, dict[str, str]]:
    """The paper as a PDF, and its truth."""
    chance = Chance(name)
    values = chance.values(paper, language, half)
    sender = chance.firm(language)
    truth = {key: value for key, (_, value) in values.items()} | (
        {paper.letterhead: sender} if paper.letterhead else {}
    )
    pages, (headers, metas) = Environment(autoescape=True), HALVES[half]
    at = zlib.crc32(name.encode())
    # Values in sentences once for each half, where a paper has them.
    prose = paper.prose.get(language, ("", ""))[half] if name.endswith("3") else ""
    rows = [(getattr(slot, language)[half], Markup(values[slot.key][0])) for slot in paper.slots]
    parts = [rows[start : start + 4] for start in range(0, len(rows), 4)]
    seller = {
        "name": sender,
        "address": (chance.choice(STREETS), f"{chance.randint(10000, 99999)} {chance.choice(FIRST)}"),
    }
    meta = "".join(pages.from_string(META[metas[at % 3]]).render(meta=part) for part in parts)
    html = pages.from_string(PAGE).render(
        font=FONTS[at // 3 % len(FONTS)], size=9.5 + at % 3 / 2, title=getattr(paper, language)[half],
        header=Markup(pages.from_string(HEADS[headers[at // 7 % 3]]).render(seller=seller, big=18)),
        meta=Markup("<p>" + prose.format(**{key: shown for key, (shown, _) in values.items()}) + "</p>") if prose else Markup(meta),
        body=_body(chance, paper.body, language),
    )  # fmt: skip
    browser.get("data:text/html;base64," + base64.b64encode(html.encode()).decode())
    answer = browser.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True, "printBackground": True})
    return base64.b64decode(answer["data"]), truth


def _body(chance: Chance, kind: str, language: str) -> Markup:
    """What else stands on the paper: lines of goods, movements, or sentences."""
    if kind == "prose":
        return Markup(f"<p style='margin-top:9mm'>{PROSE[language]}</p>")
    lines = [
        (GOODS[language] if kind == "goods" else f"R-{chance.randint(100, 999)}", chance.randint(1, 30),
         _number(f"{chance.randint(100, 90000) / 100:,.2f}", language))
        for _ in range(chance.randint(3, 6))
    ]  # fmt: skip
    rows = "".join(f"<tr><td>{a}</td><td class=n>{b}</td><td class=n>{c}</td></tr>" for a, b, c in lines)
    return Markup(f"<table class=lines>{rows}</table>")


def make_all(folder: Path, halves: tuple[str, ...] = ("known", "aside")) -> None:
    """Four papers of each kind and half below ``folder``: born-digital, two grey scans, a poor one."""
    browser = open_browser()
    try:
        for key, paper in PAPERS.items():
            for half in halves:
                for at, (language, form) in enumerate(zip(LANGUAGES, FORMS, strict=True)):
                    name = f"{key}-{half}-{at}"
                    pdf, truth = printed(paper, name, language, ("known", "aside").index(half), browser)
                    seed = zlib.crc32(name.encode())
                    damages = {
                        "born": None,
                        "grey": (scan.soft, scan.skew(seed % 21 / 10 - 1)),
                        "poor": POOR[seed % 4],
                    }[form]
                    saved(folder / half / key / name, pdf, page_images(pdf), damages, seed, key, truth)
    finally:
        browser.quit()


if __name__ == "__main__":
    make_all(Path(sys.argv[1]))
