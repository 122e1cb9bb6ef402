"""What the columns of a table are likely to say: by what stands in them, and by their headings."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence

from slugify import slugify

from zestpail.core.kinds.registered import Iban
from zestpail.core.landmarks.labels import folded
from zestpail.core.reference.reference_list import ListColumn, ReferenceList, Says
from zestpail.core.reference.table_file import TableFile
from zestpail.core.reference.traces import bare

LOOKED_AT = 300
"""Rows by which a column is judged."""
MOSTLY = 0.7
"""The share of what stands in a column that must be of a kind."""
_HEADED: Mapping[Says, tuple[str, ...]] = {
    "identifier": (
        "id", "no", "nr", "number", "key", "code", "supplierno", "suppliernumber", "vendorno", "vendornumber",
        "account",
        "creditor", "creditorno", "lieferantennr", "lieferantennummer", "kreditor", "kreditorennummer", "nummer",
        "numero", "codefournisseur", "codigo", "codice", "cislo", "numer",
    ),
    "name": (
        "name", "suppliername", "supplier", "vendor", "vendorname", "company", "firm", "firma", "lieferant", "nom",
        "raisonsociale", "fournisseur", "nombre", "proveedor", "razonsocial", "ragionesociale", "fornitore", "naam",
        "nazev", "nazwa", "nimi", "namn", "navn", "fornecedor",
    ),
    "street": (
        "street", "address", "address1", "strasse", "adresse", "rue", "calle", "direccion", "via", "indirizzo",
        "straat", "ulice", "ulica",
    ),
    "postcode": ("postcode", "zip", "zipcode", "postalcode", "plz", "postleitzahl", "codepostal", "cp", "cap", "psc"),
    "place": ("city", "town", "place", "ort", "stadt", "ville", "ciudad", "citta", "plaats", "mesto", "miasto"),
    "country": ("country", "land", "pays", "pais", "paese", "zeme", "kraj"),
    "phone": ("phone", "telephone", "tel", "telefon", "telefono", "telephonenumber", "phoneno"),
    "email": ("email", "mail", "web", "website", "url", "www", "domain"),
    "vat_number": (
        "vat", "vatno", "vatnumber", "vatid", "ustid", "ustidnr", "tva", "ntva", "nif", "cif", "partitaiva", "piva",
        "btw", "dic", "nip", "taxid",
    ),
    "iban": ("iban", "bankaccount"),
    "decimal_mark": ("decimalmark", "decimalsign", "decimals", "numberstyle"),
    "date_order": ("dateorder", "dateformat", "datestyle"),
}  # fmt: skip
"""Headings as they are usual, folded."""
_VAT = re.compile(r"[A-Z]{2,3}[A-Z0-9]*\d{6,}[A-Z0-9]*")
_CONTENT: tuple[tuple[Says, Callable[[str], bool]], ...] = (
    ("iban", lambda text: bool(re.match(r"[A-Z]{2}\d{2}", bare(text))) and Iban().proven(bare(text))),
    ("email", lambda text: bool(re.fullmatch(r"(?:https?://|www\.)\S+|\S+@\S+\.\S+", text))),
    ("vat_number", lambda text: bool(_VAT.fullmatch(bare(text))) and len(bare(text)) <= 15),
)


def proposed_list(key: str, name: str, table: TableFile) -> ReferenceList:
    """A list of the table's columns with what each is likely to say; each thing is said by one column only."""
    taken: set[Says] = set()
    says: dict[int, Says] = {}
    for told in (_by_content, _by_heading):
        for at, heading in enumerate(table.headings):
            likely = told(table, at, heading) if at not in says else ""
            if likely and likely not in taken and (likely != "identifier" or _identifies(table, at)):
                says[at] = likely
                taken.add(likely)
    if "identifier" not in taken:
        first = next((at for at in range(len(table.headings)) if at not in says and _identifies(table, at)), None)
        if first is not None:
            says[first] = "identifier"
    keys = keys_of(table.headings)
    columns = (
        ListColumn(key=keys[at], name=heading, says=says.get(at, "")) for at, heading in enumerate(table.headings)
    )
    return ReferenceList(key=key, name=name, columns=tuple(columns))


def keys_of(headings: Sequence[str]) -> list[str]:
    """A key for each heading, the same for the same headings."""
    made: list[str] = []
    for heading in headings:
        plain = slugify(heading, separator="_")[:60] or "column"
        key = plain if plain[0].isalpha() else f"c_{plain}"
        number = 2
        while key in made:
            key, number = f"{plain}_{number}", number + 1
        made.append(key)
    return made


def _by_content(table: TableFile, at: int, heading: str) -> Says:  # noqa: ARG001 - told by content alone
    filled = [row[at] for row in table.rows[:LOOKED_AT] if row[at]]
    for says, fits in _CONTENT:
        if filled and sum(map(fits, filled)) >= MOSTLY * len(filled):
            return says
    return ""


def _by_heading(table: TableFile, at: int, heading: str) -> Says:  # noqa: ARG001 - told by its heading alone
    plain = folded(heading).replace("#", "")
    return next((says for says, usual in _HEADED.items() if plain in usual), "")


def _identifies(table: TableFile, at: int) -> bool:
    """Whether every row has something of its own in the column."""
    cells = [row[at] for row in table.rows]
    return all(cells) and len(set(cells)) == len(cells)
