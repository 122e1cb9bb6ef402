"""What the demo's ledger knows beforehand, made of the invoices: ``python -m demo.ledger_books`` writes it."""

from __future__ import annotations

import json
import random
from decimal import Decimal
from pathlib import Path
from typing import Any

from demo.caught_invoices import orders as caught_orders
from demo.invoices import GOODS, SUPPLIERS, lines_truth
from demo.made_up_suppliers import suppliers

MANY_ORDERS = 40
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
            "lines": [_ordered(path.name, at, row) for at, row in enumerate(lines)],
        })  # fmt: skip
    orders += [
        {"number": one.order, "supplier": by_name[one.supplier.name], "currency": one.supplier.currency,
         "net": str(one.net), "lines": [_ordered("", at, row) for at, row in enumerate(lines_truth(one))]}
        for one in caught_orders()
    ]  # fmt: skip
    orders += _open_orders(known, MANY_ORDERS - len(orders))
    return {"suppliers": known, "orders": orders}


def _ordered(file: str, at: int, row: dict[str, Any]) -> dict[str, Any]:
    """A line as it was ordered: two invoices do not keep to it, one in a price, one in a quantity."""
    quantity, price = row["quantity"], row["unit_price"]
    if at == 0 and file.startswith("tarnwick-03"):
        price = f"{Decimal(price) * Decimal('0.95'):.2f}"
    if at == 1 and file.startswith("brevanne-02"):
        quantity = str(int(quantity) - 1)
    return {"code": row["item_code"] or "", "text": row["description"], "quantity": quantity, "price": price}


def _open_orders(known: list[dict[str, Any]], many: int) -> list[dict[str, Any]]:
    """Orders that nobody has answered yet, of suppliers of whom there is no invoice."""
    chance = random.Random(411)
    orders = []
    for at in range(many):
        supplier = chance.choice(known[len(SUPPLIERS) :])
        goods = chance.sample(GOODS["en"], 3)
        lines = [
            {"code": code, "text": text, "quantity": str(chance.randrange(1, 12)), "price": price}
            for code, text, _, price in goods
        ]
        net = sum((Decimal(line["quantity"]) * Decimal(line["price"]) for line in lines), Decimal(0))
        orders.append({"number": f"QHB-{4100 + at}", "supplier": supplier["number"], "currency": supplier["currency"],
                       "net": f"{net:.2f}", "lines": lines})  # fmt: skip
    return orders


if __name__ == "__main__":
    BOOKS.parent.mkdir(exist_ok=True)
    BOOKS.write_text(json.dumps(books(), ensure_ascii=False, indent=1) + "\n", encoding="utf-8")
