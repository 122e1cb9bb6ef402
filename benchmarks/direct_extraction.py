"""How long a program waits for the values of one page: ``python -m benchmarks.direct_extraction ADDRESS``.

On a demo that runs, with its sign-in and its files; each is sent over HTTP a few dozen times, after a few that warm the
workers. Told are milliseconds by the clock of the one who asks: median, and the slowest of 95 in a hundred.
"""

from __future__ import annotations

import re
import sys
from pathlib import Path
from time import perf_counter

import httpx

FILES = Path(__file__).parents[1] / "demo" / "files" / "supplier-invoices"
NAMES = {"brevanne-01.pdf": "born digital", "moewenbek-01.pdf": "born digital", "bight-01.tif": "a scan"}
WARMING, TIMES = 6, 30


def main(address: str) -> None:
    with httpx.Client(base_url=address, timeout=90, follow_redirects=True) as client:
        client.post("/sign-in", data={"login": "ines", "password": "quillon"}).raise_for_status()
        page = client.post("/types/supplier-invoice/programs/token", data={"name": "benchmark"}).text
        secret = re.findall(r'id="secret">(\w+[\w-]+)<', page)[0]
        details = {"authorization": f"Bearer {secret}"}
        for name, what in NAMES.items():
            data, times = (FILES / name).read_bytes(), []
            for _ in range(WARMING + TIMES):
                began = perf_counter()
                answer = client.post(
                    "/api/v1/types/supplier-invoice/extract?wait=60", headers=details, files={"file": (name, data)}
                )
                times.append(1000 * (perf_counter() - began))
                assert answer.status_code == 200 and answer.json()["fields"]["grand_total"]["value"], answer.text
            times = sorted(times[WARMING:])
            print(f"{name} ({what}): median {times[TIMES // 2]:.0f} ms, p95 {times[int(0.95 * TIMES)]:.0f} ms")


if __name__ == "__main__":
    main(sys.argv[1])
