"""``./zestpail teach-judge [COUNT] [SEED]``: composes papers, teaches the judge from them, and says what it is worth.

Of other papers, composed from the next seed, it is printed how often the likeliest candidate is right.
"""

from __future__ import annotations

import argparse
import os
import tempfile
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from training.compose.__main__ import compose
from training.judge import teach

ASIDE = 20
"""One paper is set aside for so many that are taught with."""


def main() -> None:
    """Compose, teach, measure."""
    asked = argparse.ArgumentParser(description=__doc__, prog="./zestpail teach-judge")
    asked.add_argument("count", nargs="?", type=int, default=3200)
    asked.add_argument("seed", nargs="?", type=int, default=21)
    given = asked.parse_args()
    with tempfile.TemporaryDirectory() as name:
        folders = [Path(name, str(at)) for at in range(2)]
        counts = [given.count, max(given.count // ASIDE, 1)]
        seeds = [given.seed, given.seed + 1]
        print(f"Composing {sum(counts)} papers …")
        workers = os.cpu_count() or 1
        with ProcessPoolExecutor(workers) as pool:
            for folder, count, seed in zip(folders, counts, seeds, strict=True):
                list(
                    pool.map(
                        compose,
                        [folder] * workers,
                        [count] * workers,
                        [seed] * workers,
                        range(workers),
                        [workers] * workers,
                    )
                )
        teach(folders[:1], folders[1:])


if __name__ == "__main__":
    main()
