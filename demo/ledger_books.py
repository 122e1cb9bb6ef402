"""What the demo's ledger knows beforehand, made of the invoices: ``python -m demo.ledger_books`` writes it."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from demo.made_up_suppliers import suppliers

FILES = Path(__file__).parent / "files"
BOOKS = FILES / "ledger" / "books.json"


def books() -> dict[str, list[dict[str, Any]]]:
    """The suppliers, and the orders that the invoices answer."""
    known = suppliers()
    by_name = {one["name"]: one["number"] for one in known}
    orders = []
    for path in sorted((FILES / "supplier-invoices").glob("*.truth.json")):
        told = json.loads(path.read_text())
        fields, lines = told["fields"], told["tables"]["lines"]
        orders.append({
            "number": fields["order_reference"], "supplier": by_name[fields["seller_name"]],
            "currency": fields["currency"], "net": fields["net_total"],
            "lines": [
                {"text": row["description"], "quantity": row["quantity"], "price": row["unit_price"]} for row in lines
            ],
        })  # fmt: skip
    return {"suppliers": known, "orders": orders}


if __name__ == "__main__":
    BOOKS.parent.mkdir(exist_ok=True)
    BOOKS.write_text(json.dumps(books(), ensure_ascii=False, indent=1) + "\n", encoding="utf-8")
