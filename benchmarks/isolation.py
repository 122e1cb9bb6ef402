"""What limits cost: ``python -m benchmarks.isolation``. Processor time of reading a page with and without them.

Pairs of runs, so that a busy machine troubles both alike; and what the limits take by themselves, of many steps.
"""

from __future__ import annotations

import os
import resource
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from types import SimpleNamespace
from typing import Any

from zestpail.core.reading.engines import second_reader, tesseract
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.read import read_page

SCANS = [Path(__file__).parents[1] / "demo" / "files" / "supplier-invoices" / name
         for name in ("bight-01.tif", "hallig-01.tif", "norrhavn-03.tif")]  # fmt: skip
PAIRS, STEPS = 8, 2000


def main() -> None:
    os.environ["OMP_THREAD_LIMIT"] = "1"
    with tempfile.TemporaryDirectory() as folder:
        os.environ.update(ZESTPAIL_DATA=folder, ZESTPAIL_DATABASE_URL="postgresql://nobody@127.0.0.1:1/none")
        from zestpail.work.budget import limit_process, within  # noqa: PLC0415 - reads the settings

        tesseract.warm()
        second_reader.warm()
        context: Any = SimpleNamespace(job=SimpleNamespace(id=1))
        limited = within(1)(lambda _, act: act())
        with_limits = lambda: limited(context, _read)  # noqa: E731
        _read()
        alone = _seconds(lambda: [limited(context, int) for _ in range(STEPS)]) / STEPS
        print(f"limits alone: {alone * 1e6:.0f} µs a step")
        limit_process(1_200_000_000, 3_000_000_000, 2_000_000_000)
        pairs = [(_seconds(_read), _seconds(with_limits)) for _ in range(PAIRS)]
        without, under = (statistics.median(times) for times in zip(*pairs, strict=True))
        ratio = statistics.median(one / other for other, one in pairs)
        print(f"{len(SCANS)} scans: {without:.2f} s without, {under:.2f} s with limits, ratio {ratio:.3f}")
        print(f"most memory {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e6:.2f} GB")


def _read() -> None:
    for path in SCANS:
        read_page(open_page(path.read_bytes(), 0))


def _seconds(act: Callable[[], object]) -> float:
    began = time.process_time()
    act()
    return time.process_time() - began


if __name__ == "__main__":
    main()
