"""How long the archive takes to find something: ``python -m benchmarks.archive [DOCUMENTS]``, in a database of its own.

A made-up archive of invoices, three pages each, of a few thousand suppliers with words and numbers as they are
printed. Searches are told in milliseconds by the clock: median, and the slowest of 95 in a hundred.
"""

from __future__ import annotations

import json
import random
import shutil
import sys
import tempfile
from collections.abc import Callable, Iterable
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
from pathlib import Path
from time import perf_counter
from typing import Any

import psycopg

from zestpail.core.reading.misread_words import stubs
from zestpail.core.reading.search_words import placed, plain, vector
from zestpail.desk.archive.entering import enter_due
from zestpail.desk.archive.reading_room import neighbours, reading_room
from zestpail.desk.archive.search import Wanted, search
from zestpail.desk.documents.context import set_up_lane
from zestpail.desk.lanes.first_lane import supplier_invoices
from zestpail.desk.people import people
from zestpail.runtime import cluster
from zestpail.store import Store, open_store
from zestpail.store.migrate import migrate

TIMES, PAGES, A_BATCH = 60, 3, 100
SYLLABLES = (
    "bar", "cor", "dun", "fen", "gar", "hol", "jor", "kit", "lar", "mon", "net", "pel", "rus", "thor", "vel", "wen",
)  # fmt: skip
TRADES = ("Marine", "Supply", "Timber", "Metal", "Optics", "Works", "Trading", "Elektro", "Transport", "Ropes", "Paint")
GOODS = (
    "mooring rope 32 mm eight-strand", "pneumatic fender", "anti-fouling paint 20 l", "shackle bow galvanised",
    "heaving line orange floating", "fairlead roller stainless", "tarpaulin eyelets every 50 cm", "crane hour operator",
    "inspection of lifting gear", "marine gas oil per tonne", "LED position lantern white", "shore power cable",
)  # fmt: skip
SMALL = (
    "invoice", "number", "date", "due", "order", "customer", "terms", "payable", "within", "days", "receipt", "account",
    "bank", "total", "net", "amount", "tax", "page", "please", "quote", "this", "reference", "when", "you", "pay",
    "goods", "remain", "ours", "until", "they", "are", "paid", "for", "questions", "call",
)  # fmt: skip


COLUMNS = {
    "document": "id, batch_id, file_id, revision_id, state, version, style, second_best, tables, origin, sorted, "
    "arrived_at",
    "page": "id, document_id, file_id, position, file_index, place, edits, notes, state, reading, width, height, "
    "source",
    "field_value": "document_id, position, key, value, state, raw, confidence, box, finder, reason, doubt, doubtful, "
    "readings, candidates",
    "archive_entry": "document_id, batch_id, lane_id, type_key, state, arrived_at, party, party_plain, day, amount, "
    "vector",
}


def name_of(chance: random.Random) -> str:
    own = "".join(chance.choice(SYLLABLES) for _ in range(chance.randrange(2, 4))).capitalize()
    return f"{own} {chance.choice(TRADES)} {chance.choice(('Ltd', 'GmbH', 'SARL', 'AG'))}"


def paper(at: int, suppliers: list[str], chance: random.Random) -> tuple[dict[str, str], list[str]]:
    """The values and the pages' texts of one document."""
    total = Decimal(chance.randrange(1_000, 9_000_000)) / 100
    values = {
        "seller_name": chance.choice(suppliers), "invoice_number": f"RE-{chance.randrange(10, 99)}-{at:06}",
        "issue_date": (date(2016, 1, 1) + timedelta(days=chance.randrange(3900))).isoformat(),
        "order_reference": f"QHB-{chance.randrange(10_000, 99_999)}", "grand_total": f"{total:.2f}",
    }  # fmt: skip
    pages = []
    for _ in range(PAGES):
        lines = [f"{chance.choice(GOODS)} {chance.randrange(1, 40)} {chance.randrange(100, 99_999) / 100:,.2f}"
                 for _ in range(chance.randrange(6, 18))]  # fmt: skip
        rare = "".join(chance.choice(SYLLABLES) for _ in range(4))
        pages.append(" ".join([*chance.choices(SMALL, k=60), *values.values(), *lines, rare, f"{total:,.2f}"]))
    return values, pages


def copied(cursor: psycopg.Cursor[Any], table: str, columns: str, rows: Iterable[Iterable[Any]]) -> None:
    with cursor.copy(f"COPY {table} ({columns}) FROM STDIN") as copy:
        for row in rows:
            copy.write_row(list(row))


def fill(url: str, many: int) -> tuple[list[tuple[dict[str, str], list[str]]], float]:
    """Fill the archive; returns some of its papers, and the seconds that indexing took of it."""
    chance = random.Random(3)  # noqa: S311 - a draw that can be repeated
    moment = datetime(2026, 1, 1, tzinfo=UTC)
    suppliers = [name_of(chance) for _ in range(3000)]
    papers = [paper(at, suppliers, chance) for at in range(1, many + 1)]
    ids = range(1, many + 1)
    with psycopg.connect(url) as connection, connection.cursor() as cursor:
        cursor.execute("ALTER TABLE document DISABLE TRIGGER ALL")
        copied(cursor, "batch", "id, lane_id, arrived_at, channel, control",
               ((at, 1, moment, "folder", "{}") for at in range(1, many // A_BATCH + 2)))  # fmt: skip
        copied(cursor, "arrived_file", "id, batch_id, name, blob, size, given, state",
               ((at, at // A_BATCH + 1, f"scan-{at:06}.pdf", "0", 1, "{}", "opened") for at in ids))  # fmt: skip
        copied(cursor, "document", COLUMNS["document"],
               ((at, at // A_BATCH + 1, at, 1, "delivered", 1, *["{}"] * 5, moment) for at in ids))  # fmt: skip
        copied(cursor, "page", COLUMNS["page"],
               ((PAGES * at + page, at, at, page, page, page, "{}", "[]", "read", f"{at}-{page}", 595, 842, "ocr")
                for at in ids for page in range(PAGES)))  # fmt: skip
        copied(cursor, "reading_text", "reading, text",
               ((f"{at}-{page}", text) for at, (_, pages) in zip(ids, papers, strict=True)
                for page, text in enumerate(pages)))  # fmt: skip
        empty = ("settled", "", 1.0, "[]", "", "", "", "[]", "[]", "[]")
        copied(cursor, "field_value", COLUMNS["field_value"],
               ((at, place, key, value, *empty) for at, (values, _) in zip(ids, papers, strict=True)
                for place, (key, value) in enumerate(values.items())))  # fmt: skip
        began = perf_counter()
        copied(cursor, "archive_entry", COLUMNS["archive_entry"],
               ((at, at // A_BATCH + 1, 1, "supplier-invoice", "delivered", moment, values["seller_name"],
                 plain(values["seller_name"]), values["issue_date"], values["grand_total"],
                 vector([f"scan-{at:06}.pdf", *pages, *values.values()]))
                for at, (values, pages) in zip(ids, papers, strict=True)))  # fmt: skip
        copied(cursor, "archive_value", "document_id, key, plain", ((at, key, plain(value))
               for at, (values, _) in zip(ids, papers, strict=True) for key, value in values.items()))  # fmt: skip
        words = {word for _, pages in papers for text in pages for word, _ in placed(text) if len(word) > 2}
        copied(cursor, "search_word", "word, stubs", ((word, stubs(word)) for word in sorted(words)))
        spent = perf_counter() - began
        cursor.execute("DELETE FROM archive_due")
        cursor.execute("ALTER TABLE document ENABLE TRIGGER ALL")
    with psycopg.connect(url, autocommit=True) as connection:
        connection.execute("VACUUM ANALYZE")
    return papers[:: max(1, many // 500)], spent


def main() -> None:
    """Fill it, and search."""
    many = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    folder = Path(tempfile.mkdtemp(prefix="zestpail-archive-"))
    running = cluster.start(folder)
    try:
        migrate(running.url)
        store = open_store(running.url, str(folder / "blobs"))
        people.add_person(store, "bench", "Bench", "quillon-bench")
        set_up_lane(store, "invoices", "Invoices", supplier_invoices())
        enter_due(store)
        some, spent = fill(running.url, many)
        print(
            f"{many:,} documents, {PAGES * many:,} pages: entries and their indexes {1000 * spent / many:.2f} ms each"
        )
        chance = random.Random(11)  # noqa: S311
        searches(store, some, chance)
        opening(store, many, chance)
    finally:
        cluster.stop(running)
        shutil.rmtree(folder, ignore_errors=True)


def opening(store: Store, many: int, chance: random.Random) -> None:
    """Documents opened in the reading room, with those found before and after them; pictures come by themselves."""
    times = []
    for _ in range(TIMES):
        number = chance.randrange(2, many)
        began = perf_counter()
        reading_room(store, number)
        neighbours(store, number, Wanted(words="invoice"))
        times.append(1000 * (perf_counter() - began))
    times.sort()
    median, slow = times[len(times) // 2], times[int(0.95 * len(times))]
    print(f"{'opening a document':32} median {median:6.1f} ms, p95 {slow:6.1f} ms")


def searches(store: Store, some: list[tuple[dict[str, str], list[str]]], chance: random.Random) -> None:
    """Each kind of search, a few dozen times."""

    def one(part: str) -> str:
        return chance.choice(some)[0][part]

    def rare() -> str:
        return chance.choice(chance.choice(some)[1]).split()[-2]

    def misread(word: str) -> str:
        at = chance.randrange(1, len(word) - 1)
        return word[:at] + chance.choice("rnlcoe") + word[at + 1 :]

    kinds: dict[str, Callable[[], Wanted]] = {
        "a word that is on every page": lambda: Wanted(words="invoice"),
        "two words, one with a star": lambda: Wanted(words="anti-foul* paint"),
        "a rare word": lambda: Wanted(words=rare()),
        "a rare word misread": lambda: Wanted(words=misread(rare())),
        "a number with its separators": lambda: Wanted(words=f"{Decimal(one('grand_total')):,.2f}"),
        "a number half remembered": lambda: Wanted(words=f"*{one('invoice_number')[-5:]}*"),
        "a phrase": lambda: Wanted(words='"tarpaulin eyelets every"'),
        "nothing like it": lambda: Wanted(words="qqzzxxjj"),
        "a supplier": lambda: Wanted(party=one("seller_name")[:6]),
        "a month": lambda: Wanted(since=date(2020, 3, 1), until=date(2020, 3, 31)),
        "amounts": lambda: Wanted(least=Decimal(5000), most=Decimal(5010)),
        "a word, a year and amounts": lambda: Wanted(
            words="lantern", since=date(2019, 1, 1), until=date(2019, 12, 31), least=Decimal(100), most=Decimal(9000)
        ),
        "a field's beginning": lambda: Wanted(
            type="supplier-invoice", field="order_reference", value=one("order_reference")[:7]
        ),
        "a state and a lane": lambda: Wanted(lane="invoices", state="delivered"),
    }
    slowest, told = 0.0, {}
    for name, wanted in kinds.items():
        times, hits = [], 0
        for _ in range(TIMES):
            ask = wanted()
            began = perf_counter()
            hits += len(search(store, ask).documents)
            times.append(1000 * (perf_counter() - began))
        times.sort()
        slow = times[int(0.95 * len(times))]
        slowest, told[name] = max(slowest, slow), slow
        print(
            f"{name:32} median {times[len(times) // 2]:6.1f} ms, p95 {slow:6.1f} ms, {hits / TIMES:5.1f} shown",
            flush=True,
        )
    print(
        json.dumps({"p95 of the slowest": round(slowest, 1), **{name: round(slow, 1) for name, slow in told.items()}})
    )


if __name__ == "__main__":
    main()
