"""Composes agreements of many authors: two parties, a thing, a time and a price, as a form, in clauses or in a letter."""

from __future__ import annotations

import html
import json
import random
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cache
from pathlib import Path
from typing import Any

from babel.dates import format_date

from training.compose.bill import firm_named, words_of
from training.compose.layout import FONTS
from training.compose.tongues import TONGUES, Tongue

BANK = Path(__file__).parents[1] / "agreements.json"
THINGS = ("{} {}", "{} {}", "{} type {}", "{} No. {}", "{} of {}")
FIELDS = ("number", "first", "second", "thing", "place", "begins", "ends", "fee")


@dataclass
class Author:
    """Who draws agreements up, with the habits of all of them: the same seed is the same author."""

    lot: random.Random
    tongue: Tongue
    words: dict[str, Any]
    topic: dict[str, Any]

    def one(self, meaning: str) -> str:
        """The author's word for it, the same in all agreements."""
        choices: Sequence[str] = self.topic.get(meaning) or self.words.get(meaning) or self.words["prose"][meaning]
        return random.Random(f"{self.habits}/{meaning}").choice(choices)

    def habit(self, name: str, *choices: str) -> str:
        """One of several ways, the same in all agreements."""
        return random.Random(f"{self.habits}/{name}").choice(choices)

    def __post_init__(self) -> None:
        self.habits = self.lot.randrange(2**31)


@cache
def _bank() -> dict[str, Any]:
    bank: dict[str, Any] = json.loads(BANK.read_text("utf-8"))
    return bank


def author(lot: random.Random) -> Author:
    """An author by lot; more write English than other languages."""
    tongue = lot.choice([one for one in TONGUES if one.code in _bank()])
    words = _bank()[tongue.code]
    return Author(lot, tongue, words, lot.choice(words["topics"]))


def agreement(by: Author, lot: random.Random) -> tuple[str, dict[str, str | None]]:
    """One agreement as a page, and its truth by :data:`FIELDS`; None for what it does not say."""
    names = words_of(by.tongue)
    names.seed_instance(lot.randrange(2**31))
    own = random.Random(f"{by.habits}/firm")
    first = (
        firm_named(own, by.tongue) if by.habit("house", "one", "one", "many") == "one" else firm_named(lot, by.tongue)
    )
    begins = date(2024, 1, 1) + timedelta(days=lot.randrange(1000))
    said = {
        "number": by.habit("number form", "A-{}", "{}", "{}/26", "KX{}", "QT/{}/B", "{}-01").format(lot.randrange(100, 99999)),
        "first": first, "second": firm_named(lot, by.tongue),
        "thing": lot.choice(THINGS).format(names.word().capitalize(), lot.choice((names.last_name(), names.last_name(), str(lot.randrange(2, 90))))),
        "place": by.habit("place form", "{}", "A{}", "{}b", "N-{}", "{}/2").format(lot.randrange(1, 99)),
    }  # fmt: skip
    days = {"begins": begins, "ends": begins + timedelta(days=lot.choice((89, 180, 364, 364, 729, 1094))),
            "made": begins - timedelta(days=lot.randrange(1, 60))}  # fmt: skip
    sums = {
        "fee": lot.randrange(90, 9900) * 10,
        "deposit": lot.choice((25, 50, 100, 250, 500, lot.randrange(60, 3000))),
    }
    form = by.habit("dates", *by.tongue.dates)
    spoken = f"{by.tongue.code}_{by.tongue.country}"
    said |= {key: format_date(day, form, locale=spoken) for key, day in days.items()}
    said |= {key: _money(by, value) for key, value in sums.items()}
    truth: dict[str, str | None] = {**dict.fromkeys(FIELDS), **{key: said[key] for key in FIELDS}}
    truth |= {"begins": days["begins"].isoformat(), "ends": days["ends"].isoformat(), "fee": f"{sums['fee']}.00"}
    place = by.habit("place said", "yes", "yes", "yes", "no") == "yes"
    if not place:
        truth["place"] = None
    draw = {"sheet": _sheet, "stacked": _stacked, "clauses": _clauses, "letter": _letter}
    return _page(by, draw[by.habit("layout", *draw)](by, lot, said, place)), truth


def _money(by: Author, value: int) -> str:
    text = f"{value:,}{by.habit('cents', '.00', '.00', '')}"
    text = text.replace(",", "\0").replace(".", by.tongue.marks[0][1]).replace("\0", by.tongue.marks[0][0])
    sign = by.habit("sign", *by.tongue.signs)
    return by.habit("signed", f"{sign} {text}", f"{text} {sign}")


def _entries(by: Author, said: dict[str, str], place: bool) -> list[tuple[str, str]]:
    """The rows of a form: labels with what stands by them, in the author's order, with what is not asked for."""
    keys = [
        "number",
        "made",
        "first",
        "second",
        "thing",
        *(["place"] if place else []),
        "begins",
        "ends",
        "fee",
        "deposit",
    ]
    if by.habit("order", "usual", "usual", "other") == "other":
        random.Random(f"{by.habits}/order").shuffle(keys)
    rows = [(by.one(key), said[key]) for key in keys if key != "made" or by.habit("dated", "yes", "no") == "yes"]
    if by.habit("period", "two", "two", "one") == "one":
        rows = [row for row in rows if row[0] not in (by.one("begins"), by.one("ends"))]
        between = by.habit("between", " – ", " to ", " / ") if by.tongue.code == "en" else " – "
        rows.insert(len(rows) - 1, (by.one("period"), f"{said['begins']}{between}{said['ends']}"))
    return rows


def _sheet(by: Author, lot: random.Random, said: dict[str, str], place: bool) -> str:
    colon = by.habit("colon", ":", "", "")
    numbered = by.habit("numbered", "yes", "no", "no") == "yes"
    rows = "".join(
        f"<tr>{f'<td>{at}</td>' if numbered else ''}<td>{_esc(label)}{colon}</td><td>{_esc(value)}</td></tr>"
        for at, (label, value) in enumerate(_entries(by, said, place), 1)
    )
    return (
        f'<h2>{_esc(by.one("title"))}</h2><table class="{by.habit("ruled", "grid", "")}">{rows}</table>{_more(by, lot)}'
    )


def _stacked(by: Author, lot: random.Random, said: dict[str, str], place: bool) -> str:
    cells = [
        f'<div class="cell"><span class="small">{_esc(k)}</span><br>{_esc(v)}</div>'
        for k, v in _entries(by, said, place)
    ]
    return f'<h2>{_esc(by.one("title"))}</h2><div class="cells">{"".join(cells)}</div>{_more(by, lot)}'


def _told(by: Author, said: dict[str, str], place: bool) -> list[str]:
    """The sentences of the agreement."""
    roles = {"first_role": by.one("first").lower(), "second_role": by.one("second").lower(), "title": by.one("title"),
             "place_label": by.one("place").lower(), "fee_label": by.one("fee").lower()}  # fmt: skip
    meanings = ["parties", "thing", "period", "fee", "deposit"]
    lines = [random.Random(f"{by.habits}/{m}").choice(by.words["prose"][m]).format(**said, **roles) for m in meanings]
    if not place:
        lines[1] = lines[1].replace(f", {roles['place_label']} {said['place']}", "")
        lines[1] = (
            lines[1]
            .replace(f"({roles['place_label']} {said['place']})", "")
            .replace(f" at {roles['place_label']} {said['place']}", "")
        )
        lines[1] = lines[1].replace(f", which stands at {roles['place_label']} {said['place']}", "")
    return lines


def _clauses(by: Author, lot: random.Random, said: dict[str, str], place: bool) -> str:
    mark = by.habit("clause", "{}. ", "§ {} ", "")
    lines = [f"<p>{mark.format(at)}{_esc(text)}</p>" for at, text in enumerate(_told(by, said, place), 1)]
    number = by.one("number") if by.habit("no", "label", "prose") == "label" else ""
    head = f"{_esc(number)} {_esc(said['number'])}" if number else _esc(_said(by, "number", said))
    dated = f"<p>{_esc(_said(by, 'made', said))}</p>" if by.habit("dated", "yes", "no") == "yes" else ""
    return f"<h2>{_esc(by.one('title'))}</h2><p>{head}</p>{dated}{''.join(lines)}{_more(by, lot)}"


def _letter(by: Author, lot: random.Random, said: dict[str, str], place: bool) -> str:
    names = words_of(by.tongue)
    to = f"<p>{_esc(said['second'])}<br>{_esc(names.street_name())} {lot.randrange(1, 99)}<br>{_esc(names.city())}</p>"
    body = " ".join(_told(by, said, place))
    return (
        f"<p><b>{_esc(said['first'])}</b><br>{_esc(names.city())}</p>{to}<p class='right'>{_esc(_said(by, 'made', said))}</p>"
        f"<p>{_esc(_said(by, 'number', said))}</p><p>{_esc(body)}</p>{_more(by, lot)}<p>{_esc(said['first'])}</p>"
    )


def _said(by: Author, meaning: str, said: dict[str, str]) -> str:
    form: str = random.Random(f"{by.habits}/said {meaning}").choice(by.words["prose"][meaning])
    return form.format(**said, title=by.one("title"))


def _more(by: Author, lot: random.Random) -> str:
    """What every agreement has besides: sentences that say nothing of the fields, and where one signs."""
    several = lot.sample(by.words["filler"], k=min(lot.randrange(1, 5), len(by.words["filler"])))
    told = " ".join(several).format(second_role=by.one("second").lower())
    signed = by.one("signed").format(first=by.one("first").lower())
    return f"<p>{_esc(told)}</p><p>&nbsp;</p><p>__________________<br>{_esc(signed)}</p>"


def _page(by: Author, body: str) -> str:
    size = by.habit("size", "9", "10", "11", "12")
    font, margin = by.habit("font", *FONTS), by.habit("margin", "15", "20", "25")
    return f"""<!doctype html><meta charset="utf-8"><style>@page{{size:A4;margin:{margin}mm}} body{{font:{size}pt/1.35 "{font}"}}
td{{padding:{by.habit("room", "1mm 3mm", "2mm 5mm", "1mm 9mm")};vertical-align:top}} table{{border-collapse:collapse}}
.grid td{{border:1px solid #777}} .small{{font-size:75%}} .right{{text-align:right}} .cell{{display:inline-block;width:48%;margin:2mm 0}}
</style>{body}"""


def _esc(text: str) -> str:
    return html.escape(text)
