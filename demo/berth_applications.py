"""The berth applications of the Harbour Board: ``python -m demo.berth_applications``. One form, filled in by hand.

Copies and scanners have moved, enlarged and turned the form; zones that are held to landmarks must follow it.
"""

from __future__ import annotations

import random
from dataclasses import dataclass
from datetime import date, timedelta

from demo import scanning as scan
from demo.make import HERE, PAGES, Recipe, keep_form, open_browser, print_page

OUT = HERE / "files" / "berth-applications"
VESSELS = ("Marit of Quillon", "Brine Petrel", "Ostrava Star", "Saltmarsh 3", "Lady Corvane", "Tern", "Holm Trader")
PORTS = ("Quillon", "Estrel", "Morvenna", "Tidewell")
PEOPLE = ("Ilka Brandt", "Tomas Verrin", "Odile Marchand", "Piet Solander", "Greta Lindqvist")
CLASSES = ("fishing", "cargo", "pleasure")


@dataclass(frozen=True)
class Application:
    """One form as it was filled in, and how it lies on its page: millimetres, and a factor."""

    number: str
    vessel: str
    port: str
    length: str
    draught: str
    tonnage: str
    vessel_class: str
    arrival: date
    departure: date
    berth: str
    power: bool
    dangerous: bool
    applicant: str
    phone: str
    signed: date
    signature: str
    mark: str
    tilt: float
    right: float
    down: float
    scale: float
    classes: tuple[str, ...] = CLASSES

    @property
    def printed_arrival(self) -> str:
        return f"{self.arrival:%d.%m.%Y}"

    @property
    def printed_departure(self) -> str:
        return f"{self.departure:%d.%m.%Y}"

    @property
    def printed_signed(self) -> str:
        return f"{self.signed:%d.%m.%Y}"

    def truth(self) -> dict[str, str]:
        return {
            "application_no": self.number,
            "vessel": self.vessel,
            "port": self.port,
            "length": self.length,
            "draught": self.draught,
            "tonnage": self.tonnage,
            "vessel_class": self.vessel_class,
            "arrival": self.arrival.isoformat(),
            "departure": self.departure.isoformat(),
            "berth": self.berth,
            "shore_power": "yes" if self.power else "no",
            "dangerous_goods": "yes" if self.dangerous else "no",
            "applicant": self.applicant,
            "phone": self.phone.replace(" ", ""),
            "signed_on": self.signed.isoformat(),
            "signed": "yes" if self.signature else "no",
        }


PILE = (
    ("tif", (0, 0, 1.0), (scan.soft, scan.skew(0.3))),
    ("pdf-scan", (5, -4, 1.0), (scan.soft, scan.skew(2.0))),
    ("jpg", (-4, 6, 0.97), (scan.soft, scan.skew(-1.1))),
    ("tif", (3, 3, 1.03), (scan.soft, scan.skew(-2.0), scan.bilevel)),
    ("pdf-scan", (-6, -3, 0.95), (scan.punched, scan.soft, scan.skew(0.8))),
    ("jpg", (2, 5, 1.0), (scan.faint,)),
    ("pdf", (0, 0, 1.0), ()),
    ("pdf-scan", (6, 7, 0.98), (scan.coffee, scan.soft, scan.skew(-0.6))),
)


def draw(at: int) -> Application:
    """The ``at``-th application of the pile; always the same one."""
    chance, (_, (right, down, scale), _) = random.Random(f"berth application {at}"), PILE[at]
    arrival = date(2026, 3, 2) + timedelta(days=chance.randint(0, 200))
    strokes = " ".join(f"Q{x} {chance.randint(-4, 34)} {x + 7} {chance.randint(6, 24)}" for x in range(6, 104, 14))
    return Application(
        number=f"B4-{chance.randint(1000, 9999)}",
        vessel=VESSELS[at % len(VESSELS)],
        port=chance.choice(PORTS),
        length=f"{chance.randint(80, 980) / 10:.1f}",
        draught=f"{chance.randint(12, 68) / 10:.1f}",
        tonnage=str(chance.randint(18, 4200)),
        vessel_class=chance.choice(CLASSES),
        arrival=arrival,
        departure=arrival + timedelta(days=chance.randint(1, 12)),
        berth=f"{chance.choice('ABC')}{chance.randint(1, 14)}",
        power=chance.random() < 0.5,
        dangerous=chance.random() < 0.3,
        applicant=chance.choice(PEOPLE),
        phone=f"+999 {chance.randint(10, 99)} {chance.randint(100000, 999999)}",
        signed=arrival - timedelta(days=chance.randint(3, 30)),
        signature="" if at == 4 else f"M0 20 {strokes}",
        mark=("tick", "cross", "filled")[at % 3],
        tilt=round(chance.uniform(-1.5, 1.5), 1),
        right=right,
        down=down,
        scale=scale,
    )


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    browser = open_browser()
    try:
        for at, (form, _, damage) in enumerate(PILE):
            application, name = draw(at), f"berth-application-{at + 1:02d}"
            printed = print_page(PAGES.get_template("berth-application.html").render(form=application), browser)
            truth = {"type": "berth-application", "pages": 1, "fields": application.truth()}
            keep_form(printed, Recipe("berth", at, 0, form, damage), name, OUT, truth)
    finally:
        browser.quit()


if __name__ == "__main__":
    main()
