"""How long a person waits: from the drop of files to the first document in review, on a server that runs.

``python -m benchmarks.first_doubt ADDRESS`` with the demo's sign-in; uses the demo's files.
"""

from __future__ import annotations

import sys
import time
from pathlib import Path

import httpx

FILES = Path(__file__).parents[1] / "demo" / "files" / "supplier-invoices"


def main(address: str) -> None:
    with httpx.Client(base_url=address, timeout=60, follow_redirects=True) as client:
        client.post("/sign-in", data={"login": "ines", "password": "quillon"}).raise_for_status()
        for name, awaited in (("brevanne-01.pdf", "delivered"), ("bight-04.pdf", "need you")):
            print(f"{name}: {_seconds(client, name, awaited):.2f} s from drop to “{awaited}”")
        pages = [_page(client) for _ in range(20)]
        print(f"Today, idle: {sorted(pages)[10] * 1000:.0f} ms (median)")
        for path in sorted(FILES.glob("*.tif")):
            _drop(client, path.name)
        pages = [_page(client) for _ in range(20)]
        print(
            f"Today, all cores reading: {sorted(pages)[10] * 1000:.0f} ms (median), {max(pages) * 1000:.0f} ms at most"
        )


def _seconds(client: httpx.Client, name: str, awaited: str) -> float:
    before = _count(client, awaited)
    began = time.perf_counter()
    _drop(client, name)
    while _count(client, awaited) == before:
        time.sleep(0.02)
    return time.perf_counter() - began


def _count(client: httpx.Client, awaited: str) -> str:
    """What stands in front of the word on Today's first lane."""
    stations = client.get("/today/lanes").text.split('<ol class="stations">')[1].split("</ol>")[0]
    before, _, _ = stations.partition(awaited) if awaited in stations else (stations.partition("needs you")[0], "", "")
    return before.rsplit("<b>", 1)[1].split("</b>")[0]


def _drop(client: httpx.Client, name: str) -> None:
    with (FILES / name).open("rb") as file:
        client.post("/lanes/supplier-invoices/files", files={"files": (name, file)}).raise_for_status()


def _page(client: httpx.Client) -> float:
    began = time.perf_counter()
    client.get("/").raise_for_status()
    return time.perf_counter() - began


if __name__ == "__main__":
    main(sys.argv[1])
