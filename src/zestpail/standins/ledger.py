"""A ledger that takes vouchers over HTTP: kept in a file of its own, looked at on a page of its own.

``python -m zestpail.standins.ledger --port 8637 --folder DIR`` starts it. Its key is told when it starts. For tests it
can be told to misbehave: ``POST /misbehave`` with a list of what the next calls meet.
"""

from __future__ import annotations

import argparse
import html
import json
import secrets
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass, field
from decimal import Decimal
from pathlib import Path
from typing import Annotated, Any

import uvicorn
from fastapi import Body, FastAPI, Header, Query
from fastapi.responses import HTMLResponse, JSONResponse, Response

NAME = "Ledger (stand-in)"
FIRST_NEW = 79000
"""Numbers of suppliers that are added begin after this one."""
CLOSED = "2026-01"
"""Months before this one are closed."""
COLUMNS: dict[str, Any] = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Voucher",
    "type": "object",
    "required": ["supplier", "number", "date", "total"],
    "properties": {
        "supplier": {"type": "string", "title": "Supplier", "maxLength": 80},
        "supplier_vat": {"type": "string", "title": "Supplier’s VAT number", "maxLength": 20},
        "number": {"type": "string", "title": "Voucher number", "maxLength": 30},
        "date": {"type": "string", "format": "date", "title": "Voucher date"},
        "due": {"type": "string", "format": "date", "title": "Due on"},
        "order": {"type": "string", "title": "Order", "maxLength": 30},
        "currency": {"type": "string", "title": "Currency", "maxLength": 3},
        "net": {"type": "number", "title": "Net"},
        "tax": {"type": "number", "title": "Tax"},
        "total": {"type": "number", "title": "Total"},
        "text": {"type": "string", "title": "Text", "maxLength": 120},
        "cost_centre": {"type": "string", "title": "Cost centre", "maxLength": 12},
        "batch": {"type": "string", "title": "Batch", "maxLength": 40},
        "lines": {"type": "array", "title": "Lines", "items": {"type": "object", "required": ["text"], "properties": {
            "text": {"type": "string", "title": "Text"}, "quantity": {"type": "number", "title": "Quantity"},
            "price": {"type": "number", "title": "Price"}, "amount": {"type": "number", "title": "Amount"},
        }}},
    },
}  # fmt: skip
"""What a voucher is made of, as JSON Schema."""
Authorization = Annotated[str, Header()]
SHOWN = ("supplier", "number", "date", "total", "batch")


class Ledger:
    """The vouchers, in one file."""

    def __init__(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self._path = folder / "ledger.sqlite"
        with self._open() as rows:
            columns = "id integer primary key autoincrement, key text unique, batch text, total text, body text"
            rows.execute(f"create table if not exists voucher ({columns})")
            rows.execute("create table if not exists supplier (id integer primary key autoincrement, body text)")

    @contextmanager
    def _open(self) -> Iterator[sqlite3.Connection]:
        with closing(sqlite3.connect(self._path, timeout=30)) as connection, connection:
            yield connection

    def take(self, key: str, body: dict[str, Any]) -> tuple[str, bool]:
        """Its id, and whether it is new: the same key again is the same voucher."""
        with self._open() as rows:
            known = rows.execute("select id from voucher where key = ?", (key,)).fetchone()
            if known:
                return f"V-{known[0]:05}", False
            row = (key, str(body.get("batch", "")), str(Decimal(str(body["total"]))), json.dumps(body))
            made = rows.execute("insert into voucher (key, batch, total, body) values (?, ?, ?, ?)", row)
            return f"V-{made.lastrowid:05}", True

    def change(self, number: str, body: dict[str, Any] | None) -> bool:
        """Put another voucher in its place, or none; returns whether it was there."""
        with self._open() as rows:
            if body is None:
                return rows.execute("delete from voucher where id = ?", (_id(number),)).rowcount > 0
            row = (str(body.get("batch", "")), str(Decimal(str(body["total"]))), json.dumps(body), _id(number))
            return rows.execute("update voucher set batch = ?, total = ?, body = ? where id = ?", row).rowcount > 0

    def add_supplier(self, body: dict[str, Any]) -> dict[str, Any]:
        """A supplier that was not known before, with the number that it gets."""
        with self._open() as rows:
            made = rows.execute("insert into supplier (body) values (?)", (json.dumps(body),))
            return {"number": f"{FIRST_NEW + (made.lastrowid or 0)}", **body}

    def suppliers(self) -> list[dict[str, Any]]:
        """Those that were added."""
        with self._open() as rows:
            found = rows.execute("select id, body from supplier order by id").fetchall()
        return [{"number": f"{FIRST_NEW + number}", **json.loads(body)} for number, body in found]

    def vouchers(self, batch: str | None = None) -> list[tuple[str, str, dict[str, Any]]]:
        """Id, key and body of each."""
        with self._open() as rows:
            found = rows.execute("select id, key, body, batch from voucher order by id").fetchall()
        return [(f"V-{number:05}", key, json.loads(body)) for number, key, body, of in found if batch in (None, of)]


def _id(number: str) -> int:
    return int(number.removeprefix("V-")) if number.removeprefix("V-").isdigit() else -1


def wrong(body: object) -> str:
    """Why a voucher is not taken; "" where it is."""
    if not isinstance(body, dict):
        return "A voucher is an object."
    missing = [name for name in COLUMNS["required"] if body.get(name) in (None, "")]
    if missing:
        return f"{COLUMNS['properties'][missing[0]]['title']} is missing."
    problem = next(filter(None, (_unfit(name, value) for name, value in body.items())), "")
    closed = str(body["date"])[:7] < CLOSED
    return problem or (f"The period {str(body['date'])[:7]} is closed." if closed else "")


def _unfit(name: str, value: object) -> str:
    told = COLUMNS["properties"].get(name)
    if told is None:
        return f"There is no column “{name}”."
    kinds: dict[str, tuple[type, ...]] = {"number": (int, float), "string": (str,), "array": (list,)}
    if isinstance(value, bool) or not isinstance(value, kinds[told["type"]]):
        return f"{told['title']} is no {told['type']}."
    return f"{told['title']} is too long." if len(str(value)) > told.get("maxLength", 100_000) else ""


@dataclass(frozen=True)
class Books:
    """What the ledger knows beforehand: suppliers, and orders that vouchers answer."""

    suppliers: list[dict[str, Any]] = field(default_factory=list)
    orders: list[dict[str, Any]] = field(default_factory=list)

    def wrong(self, body: dict[str, Any]) -> str:
        """Why a voucher does not go with what is known; "" where it does."""
        known = {one["number"] for one in self.orders}
        return f"There is no order {body['order']}." if known and body.get("order", "") not in {"", *known} else ""


def create_app(folder: Path, key: str, books: Books = Books()) -> FastAPI:
    """The ledger's calls and its page."""
    app = FastAPI(title=NAME, docs_url=None, redoc_url=None, openapi_url=None)
    ledger, faults = Ledger(folder), list[str]()

    def refused(status: int, title: str, detail: str = "") -> Response:
        told = {"title": title, "status": status, **({"detail": detail} if detail else {})}
        return JSONResponse(told, status, media_type="application/problem+json")

    def knows(authorization: str) -> bool:
        return secrets.compare_digest(authorization, f"Bearer {key}")

    @app.get("/api/vouchers/columns")
    def columns(authorization: Authorization = "") -> Response:
        return JSONResponse(COLUMNS) if knows(authorization) else refused(401, "The key is not known.")

    @app.post("/api/vouchers")
    def add(body: Annotated[Any, Body()], authorization: Authorization = "",
            idempotency_key: Annotated[str, Header()] = "") -> Response:  # fmt: skip
        if not knows(authorization):
            return refused(401, "The key is not known.")
        fault = faults.pop(0) if faults else ""
        if fault == "error":
            return refused(500, "Something went wrong.")
        problem = fault.removeprefix("refuse ") if fault.startswith("refuse ") else wrong(body) or books.wrong(body)
        if problem:
            return refused(422, "The voucher is not taken.", problem)
        number, new = ledger.take(idempotency_key or secrets.token_hex(16), body)
        if fault == "error after storing":
            return refused(500, "Something went wrong.")
        return JSONResponse({"id": number, "address": f"/#{number}"}, 201 if new else 200)

    @app.put("/api/vouchers/{number}")
    def change(number: str, body: Annotated[Any, Body()], authorization: Authorization = "") -> Response:
        if not knows(authorization):
            return refused(401, "The key is not known.")
        if problem := wrong(body) or books.wrong(body):
            return refused(422, "The voucher is not taken.", problem)
        return (
            JSONResponse({"id": number}) if ledger.change(number, body) else refused(404, "There is no such voucher.")
        )

    @app.delete("/api/vouchers/{number}")
    def remove(number: str, authorization: Authorization = "") -> Response:
        if not knows(authorization):
            return refused(401, "The key is not known.")
        return Response(status_code=204) if ledger.change(number, None) else refused(404, "There is no such voucher.")

    @app.get("/api/vouchers")
    def vouchers(authorization: Authorization = "", batch: Annotated[str | None, Query()] = None,
                 key_: Annotated[str | None, Query(alias="key")] = None) -> Response:  # fmt: skip
        if not knows(authorization):
            return refused(401, "The key is not known.")
        found = [one for one in ledger.vouchers(batch) if key_ in (None, one[1])]
        return JSONResponse([{"id": number, "key": of, **body} for number, of, body in found])

    @app.get("/api/vouchers/totals")
    def totals(authorization: Authorization = "", batch: Annotated[str | None, Query()] = None) -> Response:
        if not knows(authorization):
            return refused(401, "The key is not known.")
        found = ledger.vouchers(batch)
        total = sum((Decimal(str(body["total"])) for *_, body in found), Decimal(0))
        return JSONResponse({"count": len(found), "total": str(total)})

    @app.get("/api/suppliers")
    def suppliers(authorization: Authorization = "", vat: str | None = None) -> Response:
        if not knows(authorization):
            return refused(401, "The key is not known.")
        known = [*books.suppliers, *ledger.suppliers()]
        return JSONResponse([one for one in known if vat in (None, one.get("vat"))])

    @app.post("/api/suppliers")
    def add_supplier(body: Annotated[Any, Body()], authorization: Authorization = "") -> Response:
        if not knows(authorization):
            return refused(401, "The key is not known.")
        if not isinstance(body, dict) or not str(body.get("name") or "").strip():
            return refused(422, "The supplier is not taken.", "A supplier needs a name.")
        told = {name: str(value) for name, value in body.items() if name != "number" and value not in (None, "")}
        return JSONResponse(ledger.add_supplier(told), 201)

    @app.get("/api/orders")
    def orders(authorization: Authorization = "", number: str | None = None) -> Response:
        if not knows(authorization):
            return refused(401, "The key is not known.")
        return JSONResponse([one for one in books.orders if number in (None, one["number"])])

    @app.post("/misbehave")
    def misbehave(coming: Annotated[list[str], Body()]) -> dict[str, int]:
        faults[:] = coming
        return {"faults": len(faults)}

    @app.get("/", response_class=HTMLResponse)
    def page() -> str:
        lines = "".join(
            f'<tr id="{number}"><td>{number}</td>'
            + "".join(f"<td>{html.escape(str(body.get(name, '')))}</td>" for name in SHOWN) + "</tr>"
            for number, _, body in ledger.vouchers()
        )  # fmt: skip
        return f"""<!doctype html><html lang="en"><meta charset="utf-8"><title>{NAME}</title><main><h1>{NAME}</h1>
<table><thead><tr><th>Voucher</th><th>Supplier</th><th>Number</th><th>Date</th><th>Total</th><th>Batch</th></tr></thead><tbody>{lines}</tbody></table>
<h2>Suppliers</h2>{_table(books.suppliers)}<h2>Orders</h2>{_table(books.orders)}</main></html>"""

    return app


def _table(rows: list[dict[str, Any]]) -> str:
    names = [name for name, value in (rows[0] if rows else {}).items() if not isinstance(value, list)]
    head = "".join(f"<th>{html.escape(name.replace('_', ' '))}</th>" for name in names)
    lines = "".join(
        f"<tr>{''.join(f'<td>{html.escape(str(row.get(name, str())))}</td>' for name in names)}</tr>" for row in rows
    )
    return f"<table><thead><tr>{head}</tr></thead><tbody>{lines}</tbody></table>"


def main() -> None:
    """Serve until stopped."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--port", type=int, default=8637)
    asked.add_argument("--folder", type=Path, required=True)
    asked.add_argument("--key", default="")
    asked.add_argument("--books", type=Path, help="a file of suppliers and orders that are known beforehand")
    given = asked.parse_args()
    books = Books(**json.loads(given.books.read_text("utf-8"))) if given.books else Books()
    key = given.key or secrets.token_urlsafe(18)
    print(f"{NAME} at http://127.0.0.1:{given.port}/, records to /api/vouchers, key {key}", flush=True)
    uvicorn.run(create_app(given.folder, key, books), host="127.0.0.1", port=given.port, log_level="warning")


if __name__ == "__main__":
    main()
