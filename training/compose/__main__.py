"""``python -m training.compose FOLDER COUNT [SEED]``: composed invoices as PDFs, each with its truth beside it."""

from __future__ import annotations

import json
import random
import sys
from pathlib import Path

from training.compose.bill import drawn
from training.compose.layout import composed
from training.compose.printing import printed, printer, with_properties


def compose(folder: Path, count: int, seed: int = 1, first: int = 0, step: int = 1) -> None:
    """Make ``count`` papers, or every ``step``-th of them; the same seed makes the same papers."""
    folder.mkdir(parents=True, exist_ok=True)
    with printer() as browser:
        for at in range(first, count, step):
            lot = random.Random(f"{seed}/{at}")
            paper = composed(lot, drawn(lot))
            name = folder / f"composed-{seed}-{at:05d}.pdf"
            name.write_bytes(with_properties(printed(browser, paper.markup), paper.author, paper.title))
            truth = {"fields": paper.fields, "tables": {"lines": paper.rows}}
            Path(f"{name}.truth.json").write_text(json.dumps(truth, ensure_ascii=False, indent=1), "utf-8")


if __name__ == "__main__":
    compose(Path(sys.argv[1]), int(sys.argv[2]), *map(int, sys.argv[3:4]))
