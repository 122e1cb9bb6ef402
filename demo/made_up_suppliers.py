"""Some three hundred suppliers that the Harbour Board's ledger knows: those of the demo, namesakes, and others.

All of them are made up; VAT numbers and accounts use the country code XQ, which is assigned to nobody.
"""

from __future__ import annotations

import random
from typing import Any

from stdnum.iso7064 import mod_97_10

from demo.invoices import SUPPLIERS, Supplier

MANY = 300
_FIRST = (
    "Ambler", "Birnholt", "Corriemor", "Dunmarrow", "Ellerwick", "Fenharbour", "Garrowby", "Hexwater", "Inchcairn",
    "Jorvale", "Kittewell", "Larkenby", "Marrowgate", "Nethersea", "Orlinghall", "Pellwick", "Querrin", "Rushmere",
    "Sandermoor", "Thornwater", "Ulverby", "Vellanport", "Wexholm", "Yarrowness", "Brunkoog", "Delvenau", "Grootwijk",
    "Lindensiel", "Nordkoog", "Ostermarsch", "Rehmhafen", "Stillau", "Wolkenrade", "Aubrevent", "Castelmor",
    "Fontreval", "Kerlouan", "Montségard", "Plouvenec", "Rochebrune", "Saintonge", "Valcoudre",
)  # fmt: skip
_TRADE = {
    "en": ("Chandlery", "Marine Supplies", "Fuels", "Electrical", "Paints", "Cranes", "Diving Services", "Printing",
           "Pumps", "Timber", "Safety Wear", "Towage", "Waste Services", "Catering"),
    "de": ("Schiffsbedarf", "Elektrotechnik", "Baustoffe", "Krantechnik", "Farben", "Spedition", "Stahlbau"),
    "fr": ("Accastillage", "Peintures Marines", "Électricité", "Menuiserie", "Transports", "Voiles"),
}  # fmt: skip
_FORM = {"en": ("Ltd", "LLP", "Ltd"), "de": ("GmbH", "KG", "AG"), "fr": ("SARL", "SAS", "SA")}
_STREET = {
    "en": ("{} Quay Road", "{} Harbour Street", "Unit {}, Breakwater Park", "{} Slipway Lane"),
    "de": ("Hafenstraße {}", "Am Deich {}", "Werftweg {}"),
    "fr": ("{} rue des Mâts", "{} quai du Large", "{} chemin des Dunes"),
}
_TERMS = (14, 21, 30, 30, 30, 45, 60)
_CENTRES = ("4100 Moorings", "4200 Workshops", "4300 Cranes", "4400 Fuel", "4500 Buildings", "4600 Office")


def suppliers() -> list[dict[str, Any]]:
    """All of them, those of the demo first; the same each time."""
    chance = random.Random(1907)
    known = [_of_demo(one, at) for at, one in enumerate(SUPPLIERS)]
    names = {one["name"] for one in known}
    others = [name for one in SUPPLIERS for name in _namesakes(one.name, chance)]
    while len(known) + len(others) < MANY:
        language = chance.choice(("en", "en", "de", "fr"))
        parts = (chance.choice(_FIRST), chance.choice(_TRADE[language]), chance.choice(_FORM[language]))
        name = " ".join(parts)
        if name not in names and name not in others:
            others.append(name)
    chance.shuffle(others)
    made = [*known, *(_made_up(name, chance) for name in others if name not in names)]
    for at, one in enumerate(sorted(made, key=lambda one: str(one["name"])), 1):
        one["number"] = f"7{at:04}"
    return [{"number": one["number"], **{k: v for k, v in one.items() if k != "number"}} for one in made]


def _of_demo(one: Supplier, at: int) -> dict[str, Any]:
    street, place = one.address[0], one.address[-1]
    first, _, rest = place.partition(" ")
    coded = first.isdigit()
    language = {"de": "de", "de-electric": "de", "fr": "fr"}.get(one.goods, "en")
    return _entry(
        one.name, one.vat_id, one.iban, street, first if coded else "", rest if coded else place, one.currency,
        one.days_to_pay, _CENTRES[at % len(_CENTRES)], language,
    )  # fmt: skip


def _made_up(name: str, chance: random.Random) -> dict[str, Any]:
    language = next((known for known, forms in _FORM.items() if name.rsplit(" ", 1)[-1] in forms), "en")
    number = f"{chance.randrange(10**8, 10**9)}"
    account = f"0000{chance.randrange(10**13, 10**14)}"
    check = mod_97_10.calc_check_digits(f"{account}XQ")
    place = chance.choice(_FIRST)
    return _entry(
        name, f"XQ{number}", f"XQ{check}{account}",
        chance.choice(_STREET[language]).format(chance.randrange(1, 140)), f"{chance.randrange(100, 99999):05}",
        place, "GBP" if language == "en" else "EUR", chance.choice(_TERMS), chance.choice(_CENTRES), language,
    )  # fmt: skip


def _entry(
    name: str, vat: str, iban: str, street: str, postcode: str, place: str, currency: str, days: int, centre: str,
    language: str,
) -> dict[str, Any]:  # fmt: skip
    return {
        "number": "", "name": name, "vat": "".join(c for c in vat if c.isalnum()), "iban": iban.replace(" ", ""),
        "street": street, "postcode": postcode, "place": place, "currency": currency, "days_to_pay": days,
        "cost_centre": centre, "decimal_mark": "point" if language == "en" else "comma", "date_order": "day",
    }  # fmt: skip


def _namesakes(name: str, chance: random.Random) -> list[str]:
    """Names that are easily taken for this one: another trade, another legal form, a letter more."""
    *words, form = name.split()
    language = next((known for known, forms in _FORM.items() if form in forms), "en")
    other_form = next(one for one in ("AG", "SA", "LLP", "GmbH", "Ltd") if one != form)
    longer = words[0] + ("s" if not words[0].endswith("s") else "e")
    return [
        " ".join((words[0], chance.choice(_TRADE[language]), form)),
        " ".join((*words, other_form)),
        " ".join((longer, *words[1:], form)),
    ]
