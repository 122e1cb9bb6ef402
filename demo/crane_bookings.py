"""The crane bookings: ``python -m demo.crane_bookings``. E-mails in plain prose, in four languages.

Each writes its date in another way.
"""

from __future__ import annotations

import json
import random
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from email.message import EmailMessage
from email.utils import format_datetime

from demo.make import HERE

OUT = HERE / "files" / "crane-bookings"
COUNT = 24
CRANES = ("Titan", "Old Bess", "Crane 3", "Little Jib")
VESSELS = ("Brine Petrel", "Holm Trader", "Ostrava Star", "Marit of Quillon", "Lady Corvane", "Tern", "Anna Wick")
PEOPLE = {
    "en": ("Harriet Combe", "Silas Worth", "Nan Aldous"), "de": ("Ilka Brandt", "Jörn Petersen", "Gesa Holm"),
    "pt": ("Rui Falcão", "Inês Moura", "Tomás Leal"), "fr": ("Odile Marchand", "Yves Cantelle", "Solène Gaud"),
}  # fmt: skip
MONTHS = {
    "en": "January February March April May June July August September October November December",
    "de": "Januar Februar März April Mai Juni Juli August September Oktober November Dezember",
    "pt": "janeiro fevereiro março abril maio junho julho agosto setembro outubro novembro dezembro",
    "fr": "janvier février mars avril mai juin juillet août septembre octobre novembre décembre",
}
WEEKDAYS = {
    "en": "Monday Tuesday Wednesday Thursday Friday Saturday Sunday",
    "de": "Montag Dienstag Mittwoch Donnerstag Freitag Samstag Sonntag",
    "pt": "segunda-feira terça-feira quarta-feira quinta-feira sexta-feira sábado domingo",
    "fr": "lundi mardi mercredi jeudi vendredi samedi dimanche",
}
HOURS = {
    "en": "zero one two three four five six seven eight nine ten eleven twelve",
    "de": "null eins zwei drei vier fünf sechs sieben acht neun zehn elf zwölf",
    "pt": "zero uma duas três quatro cinco seis sete oito nove dez onze doze",
    "fr": "zéro une deux trois quatre cinq six sept huit neuf dix onze douze",
}
TEXTS: dict[str, list[str]] = json.loads((HERE / "templates" / "crane-bookings.json").read_text("utf-8"))
"""By language how people word it."""


@dataclass(frozen=True)
class Booking:
    """One e-mail and what it asks for."""

    language: str
    text: str
    sent: datetime
    sender: str
    crane: str
    vessel: str
    day: date
    begin: time
    end: time
    tons: str

    def truth(self) -> dict[str, str]:
        return {
            "crane": self.crane,
            "vessel": self.vessel,
            "day": self.day.isoformat(),
            "begin": f"{self.begin:%H:%M}",
            "end": f"{self.end:%H:%M}",
            "tonnes": self.tons,
        }


def draw(at: int) -> Booking:
    """The ``at``-th booking, from 0; always the same one."""
    chance = random.Random(f"crane booking {at}")
    language = ("pt", "en", "de", "fr")[at % 4]
    sent = datetime(2026, 8, 3, tzinfo=UTC) + timedelta(days=chance.randint(0, 40), hours=chance.randint(7, 17))
    relative = chance.random() < 0.25
    day = sent.date() + timedelta(days=chance.randint(2, 6) if relative else chance.randint(8, 60))
    begin = time(chance.randint(7, 12), chance.choice((0, 0, 30)))
    end = time(min(begin.hour + chance.randint(1, 5), 18), chance.choice((0, 30)))
    tons = chance.randint(2, 24)
    crane, vessel = chance.choice(CRANES), chance.choice(VESSELS)
    name = chance.choice(PEOPLE[language])
    text = chance.choice(TEXTS[language]).format(
        crane=crane, vessel=vessel, day=_said_day(day, language, chance, relative=relative),
        begin=_said_time(begin, language, chance), end=_said_time(end, language, chance), tons=tons, name=name,
    )  # fmt: skip
    return Booking(language, text, sent, name, crane, vessel, day, begin, end, str(tons))


def _said_day(day: date, language: str, chance: random.Random, *, relative: bool) -> str:
    weekday, month = WEEKDAYS[language].split()[day.weekday()], MONTHS[language].split()[day.month - 1]
    if relative:
        return {"en": f"next {weekday}", "de": f"kommenden {weekday}", "pt": f"próxima {weekday}",
                "fr": f"{weekday} prochain"}[language]  # fmt: skip
    whole = {"en": f"the {_nth(day.day)} of {month}", "de": f"{day.day}. {month}", "pt": f"{day.day} de {month}",
             "fr": f"{day.day} {month}"}[language]  # fmt: skip
    forms = (whole, f"{whole} {day.year}" if language != "pt" else f"{whole} de {day.year}", f"{day:%d.%m.%Y}",
             f"{day.day}/{day.month}", f"{weekday}, {whole}")  # fmt: skip
    return chance.choice(forms)


def _nth(number: int) -> str:
    ending = "th" if 10 < number < 20 else {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{ending}"


def _said_time(at: time, language: str, chance: random.Random) -> str:
    word = HOURS[language].split()[at.hour] if at.hour <= 12 and at.minute == 0 else ""
    plain = f"{at.hour}:{at.minute:02d}"
    short = {"en": plain, "de": f"{at.hour} Uhr" + (f" {at.minute}" if at.minute else ""),
             "pt": f"{at.hour}h{at.minute:02d}" if at.minute else f"{at.hour}h",
             "fr": f"{at.hour} h {at.minute:02d}" if at.minute else f"{at.hour} h"}[language]  # fmt: skip
    spoken = {"en": f"{word} o'clock", "de": f"{word} Uhr", "pt": f"{word} horas", "fr": f"{word} heures"}[language]
    return chance.choice((plain, short, spoken if word else short))


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    for at in range(COUNT):
        booking = draw(at)
        mail = EmailMessage()
        mail["From"] = f"{booking.sender} <booking{at + 1}@quay.example>"
        mail["To"] = "crane@quillon.example"
        mail["Subject"] = {"en": "Crane", "de": "Kran", "pt": "Grua", "fr": "Grue"}[booking.language]
        mail["Date"] = format_datetime(booking.sent)
        mail["Message-ID"] = f"<booking-{at + 1}@quay.example>"
        mail.set_content(booking.text)
        target = OUT / f"booking-{at + 1:02d}.eml"
        target.write_bytes(mail.as_bytes())
        truth = {"type": "crane-booking", "language": booking.language, "fields": booking.truth()}
        target.with_name(target.name + ".truth.json").write_text(json.dumps(truth, indent=1, ensure_ascii=False) + "\n")


if __name__ == "__main__":
    main()
