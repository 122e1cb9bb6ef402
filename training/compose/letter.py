"""Composes e-mails in prose that ask for a room: who, which, when, how many. Everybody words it in another way."""

from __future__ import annotations

import json
import random
from datetime import UTC, datetime, timedelta
from email.message import EmailMessage
from email.utils import format_datetime
from functools import cache
from pathlib import Path
from typing import Any

from babel.dates import get_day_names, get_month_names

from training.compose.bill import words_of
from training.compose.tongues import TONGUES

BANK = Path(__file__).parents[1] / "letters.json"
FIELDS = ("thing", "who", "day", "begin", "end", "count")
ROOMS = ("{} Room", "{} Hall", "Room {}", "{}", "{} Two", "{}", "{} {}")
GUESTS = ("{} Club", "{} & Co", "{} Group", "{} {}", "{}", "{} of {}")


@cache
def _bank() -> dict[str, Any]:
    bank: dict[str, Any] = json.loads(BANK.read_text("utf-8"))
    return bank


def letter(house: str, lot: random.Random) -> tuple[bytes, dict[str, str | None]]:
    """An e-mail to a house as it is kept, and its truth by :data:`FIELDS`; its rooms, and some guests, come again."""
    language = lot.choice(list(_bank()))
    words = _bank()[language]
    names = words_of(next(tongue for tongue in TONGUES if tongue.code == language))
    names.seed_instance(lot.randrange(2**31))
    sent = datetime(2025, 3, 1, tzinfo=UTC) + timedelta(days=lot.randrange(400), hours=lot.randrange(7, 18))
    said = lot.choice(words["day"])
    day = sent.date() + timedelta(days=lot.randrange(2, 7) if "weekday" in said else lot.randrange(8, 70))
    begin, longer = lot.randrange(7, 13), lot.randrange(1, 6)
    half, half_end = lot.choice(("00", "00", "30")), lot.choice(("00", "30"))
    form = lot.choice([one for one in words["time"] if "half" not in one])
    values = {
        "thing": _known(house, lot.randrange(5), ROOMS), "who": _known(house, lot.randrange(9), GUESTS) if lot.random() < 0.5 else _known("", lot.randrange(2**31), GUESTS),
        "day": said.format(d=day.day, m=day.month, y=day.year, month=get_month_names(locale=language)[day.month],
                           weekday=get_day_names(locale=language)[day.weekday()]),
        "begin": form.format(h=begin, min=half), "end": form.format(h=begin + longer, min=half_end),
        "count": str(lot.randrange(3, 90)),
    }  # fmt: skip
    truth: dict[str, str | None] = {
        **values,
        "day": day.isoformat(),
        "begin": f"{begin:02d}:{half}",
        "end": f"{begin + longer:02d}:{half_end}",
    }
    mail = EmailMessage()
    mail["From"], mail["To"] = f"{names.name()} <{lot.randrange(999)}@letters.example>", "rooms@house.example"
    mail["Subject"], mail["Date"] = lot.choice(words["subject"]), format_datetime(sent)
    text = lot.choice(words["texts"]).format(**values)
    mail.set_content(f"{lot.choice(words['greeting'])}\n\n{text}\n\n{lot.choice(words['close'])}\n{names.name()}\n")
    return mail.as_bytes(), truth


def _known(house: str, at: int, forms: tuple[str, ...]) -> str:
    """A name of the house: its ``at``-th, always the same."""
    own = random.Random(f"{house}/{at}/{forms[0]}")
    names = words_of(TONGUES[0])
    names.seed_instance(own.randrange(2**31))
    return own.choice(forms).format(names.last_name(), names.last_name())
