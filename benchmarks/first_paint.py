"""How long the proof sheet takes to show, ``python -m benchmarks.first_paint ADDRESS [SAMPLES]`` with the demo.

Fills a type with copies of the demo's fuel notes (50 samples) and fifteen fields, then opens its proof sheet in
headless Chromium and prints what the browser itself says of the first paint.
"""

from __future__ import annotations

import io
import json
import sys
import time
import zipfile
from pathlib import Path

import httpx

from demo.make import open_browser

NOTES = Path(__file__).parents[1] / "demo" / "files" / "fuel-delivery-notes"
LABELS = (
    "Ticket no.", "Date", "Vessel", "Berth", "Account", "Pump", "Product", "Delivered", "Meter before", "Docket",
    "Fuel", "Received", "Form", "Complaints", "Outer",
)  # fmt: skip
FIELDS = [
    {
        "key": f"f{at}",
        "name": label,
        "kind": {"kind": "line"},
        "finders": [{"finder": "beside_label", "labels": [label]}],
    }
    for at, label in enumerate(LABELS)
]


def main(address: str, samples: int = 50) -> None:
    with httpx.Client(base_url=address, timeout=600, follow_redirects=True) as client:
        client.post("/sign-in", data={"login": "ines", "password": "quillon"}).raise_for_status()
        answer = client.post("/types/import", files={"file": ("paint.zip", _type(samples))})
        key = str(answer.url).rsplit("/", 1)[1]
        while f"of {samples}:" not in client.get(f"/types/{key}").text:
            time.sleep(1)
        print(f"{samples} samples are read; the sheet is {len(client.get(f'/types/{key}/sheet').content) // 1000} kB")
    browser = open_browser()
    try:
        browser.get(address + "/sign-in")
        browser.find_element("id", "login").send_keys("ines")
        browser.find_element("id", "password").send_keys("quillon\n")
        times = sorted(_paint(browser, f"{address}/types/{key}/sheet") for _ in range(7))
        print(f"first contentful paint of {samples} samples × {len(FIELDS)} fields: {times[3]:.0f} ms (median of 7)")
    finally:
        browser.quit()


def _paint(browser: object, address: str) -> float:
    browser.get(address)  # type: ignore[attr-defined]
    asked = "return performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? 0"
    while not (seen := browser.execute_script(asked)):  # type: ignore[attr-defined]
        time.sleep(0.05)
    return float(seen)


def _type(samples: int) -> bytes:
    files = sorted(path for path in NOTES.iterdir() if path.suffix != ".json")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as carried:
        kind = {"key": "first-paint", "name": "First paint", "fields": FIELDS}
        carried.writestr("type.json", json.dumps(kind))
        for at in range(samples):
            file = files[at % len(files)]
            carried.writestr(f"samples/{at}-{at}-{file.name}", file.read_bytes())
    return out.getvalue()


if __name__ == "__main__":
    main(sys.argv[1], *map(int, sys.argv[2:]))
