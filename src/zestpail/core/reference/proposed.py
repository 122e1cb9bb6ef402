"""What the columns of a table are likely to say: by what stands in them, and by their headings."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence

from slugify import slugify

from zestpail.core.kinds.registered import Iban
from zestpail.core.landmarks.labels import folded
from zestpail.core.reference.reference_list import OF_LINES, ListColumn, ReferenceList, Says
from zestpail.core.reference.table_file import TableFile
from zestpail.core.reference.traces import bare

LOOKED_AT = 300
"""Rows by which a column is judged."""
LINED = 2
"""Columns of lines by which a list of orders is told."""
_OF_ORDERS: tuple[Says, ...] = ("party", "amount", *OF_LINES)
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
    "party": ("supplier", "supplierno", "suppliernumber", "vendor", "creditor", "lieferant", "lieferantennr"),
    "amount": ("net", "nettotal", "total", "amount", "netto", "summe"),
    "line_code": ("linecode", "linearticle", "lineitem", "article", "articleno", "itemno", "sku", "artikel"),
    "line_text": ("linetext", "linedescription", "description", "bezeichnung", "designation"),
    "line_quantity": ("linequantity", "quantity", "qty", "menge", "quantite"),
    "line_price": ("lineprice", "unitprice", "price", "einzelpreis", "prixunitaire"),
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
    lined = _lined(table)
    taken: set[Says] = set() if lined is not None else set(_OF_ORDERS)
    says: dict[int, Says] = {}
    ways: tuple[Callable[[TableFile, int, str], Says], ...] = (_by_content, _by_heading)
    for told in ways if lined is None else (_by_content, _of_order, _by_heading):
        for at, heading in enumerate(table.headings):
            likely = told(table, at, heading) if at not in says else ""
            if likely == "identifier" and lined is None and not _identifies(table, at):
                continue
            if likely and likely not in taken:
                says[at] = likely
                taken.add(likely)
    if lined is not None:
        says = {at: said for at, said in says.items() if said != "identifier"} | {lined: "identifier"}
    elif "identifier" not in taken:
        first = next((at for at in range(len(table.headings)) if at not in says and _identifies(table, at)), None)
        if first is not None:
            says[first] = "identifier"
    keys = keys_of(table.headings)
    columns = (
        ListColumn(key=keys[at], name=heading, says=says.get(at, "")) for at, heading in enumerate(table.headings)
    )
    return ReferenceList(key=key, name=name, columns=tuple(columns), lined=lined is not None)


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
    return _headed(heading, _HEADED)


def _of_order(table: TableFile, at: int, heading: str) -> Says:  # noqa: ARG001 - told by its heading alone
    return _headed(heading, _OF_ORDERS)


def _headed(heading: str, wanted: Iterable[Says]) -> Says:
    plain = folded(heading).replace("#", "")
    return next((says for says in wanted if plain in _HEADED[says]), "")


def _lined(table: TableFile) -> int | None:
    """The first column, if rows follow each other that have the same in it and lines of their own in others."""
    headed = {_by_heading(table, at, heading) for at, heading in enumerate(table.headings)}
    keys = [row[0] for row in table.rows]
    if not all(keys) or len({"line_text", "line_quantity", "line_price"} & headed) < LINED:
        return None
    return 0 if len(set(keys)) < len(keys) else None


def _identifies(table: TableFile, at: int) -> bool:
    """Whether every row has something of its own in the column."""
    cells = [row[at] for row in table.rows]
    return all(cells) and len(set(cells)) == len(cells)
