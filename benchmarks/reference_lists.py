"""How long it takes to take in a reference list of 200 000 rows, and to look a paper up in it.

``python -m benchmarks.reference_lists [ROWS]``, in a database of its own. Lookups are told in milliseconds by the
clock, the median and the slowest of a hundred; the list is made up.
"""

from __future__ import annotations

import random
import shutil
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from statistics import median
from time import perf_counter, process_time

from zestpail.desk.documents.stored_lists import StoredLists
from zestpail.desk.people import people
from zestpail.desk.reference import lists
from zestpail.desk.reference.taking import read_list
from zestpail.runtime import cluster
from zestpail.store import open_store
from zestpail.store.migrate import migrate

FIRST = ("Alder", "Beacon", "Cinder", "Dover", "Ember", "Falcon", "Granite", "Harbour", "Juniper", "Lantern", "Ocean")
SECOND = ("Marine", "Supply", "Timber", "Metal", "Optics", "Works", "Trading", "Logistics", "Elektro", "Transport")
FORMS = ("Ltd", "GmbH", "AG", "SARL", "SAS", "BV", "KG")
SYLLABLES = ("bar", "cor", "dun", "fen", "gar", "hol", "jor", "kit", "lar", "mon", "net", "pel", "rus", "thor", "vel")
TIMES = 100


def made_up(many: int, chance: random.Random) -> bytes:
    """A list of suppliers, with names that are like each other."""
    rows = ["Number;Name;VAT;IBAN"]
    for at in range(many):
        own = "".join(chance.choice(SYLLABLES) for _ in range(chance.randrange(2, 5))).capitalize()
        name = f"{own} {chance.choice(FIRST)} {chance.choice(SECOND)} {chance.choice(FORMS)}"
        rows.append(f"{at:06};{name};XQ{chance.randrange(10**8, 10**9)};XQ{chance.randrange(10**18, 10**19)}")
    return "\n".join(rows).encode()


def main() -> None:
    """Take the list in, and look up in it."""
    many, chance = int(sys.argv[1]) if len(sys.argv) > 1 else 200_000, random.Random(7)
    folder = Path(tempfile.mkdtemp(prefix="zestpail-lists-"))
    running = cluster.start(folder)
    try:
        migrate(running.url)
        store = open_store(running.url, str(folder / "blobs"))
        people.add_person(store, "bench", "Bench", "quillon-bench")
        lists.add_list(store, "Suppliers", 1)
        content = made_up(many, chance)
        lists.give_file(store, "suppliers", "suppliers.csv", content, 1)
        began, spent = perf_counter(), process_time()
        read_list(store, 1)
        clock, processor = perf_counter() - began, process_time() - spent
        print(f"{many:,} rows taken in: {clock:.1f} s, {processor:.1f} s of processor time")
        rows = [line.split(";") for line in content.decode().splitlines()[1:]]
        found, some = StoredLists(store.transaction), [chance.choice(rows) for _ in range(TIMES)]
        misread, others = [_misread(row[1], chance) for row in some], [row[1][3:] for row in some[:7]]
        _told("by a token", lambda at: found.traced("suppliers", [f"vat_number:{some[at][2]}"]))
        _told("by a misread name", lambda at: found.named_like("suppliers", [misread[at]], 12))
        _told("by eight texts of a paper", lambda at: found.named_like("suppliers", [some[at][1], *others], 12))
        lists.say_columns(store, "suppliers", {"iban": ""}, 1)
        began = perf_counter()
        read_list(store, 1)
        print(f"a column says something else, made ready for searching: {perf_counter() - began:.1f} s")
    finally:
        cluster.stop(running)
        shutil.rmtree(folder, ignore_errors=True)


def _misread(name: str, chance: random.Random) -> str:
    at = chance.randrange(1, len(name) - 1)
    return name[:at] + chance.choice("rnlcoe") + name[at + 1 :]


def _told(what: str, ask: Callable[[int], object]) -> None:
    times = []
    for at in range(TIMES):
        began = perf_counter()
        ask(at)
        times.append(1000 * (perf_counter() - began))
    print(f"{what}: median {median(times):.1f} ms, slowest {max(times):.1f} ms")


if __name__ == "__main__":
    main()
