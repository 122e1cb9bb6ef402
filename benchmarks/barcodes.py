"""How many barcodes are read: ``python -m benchmarks.barcodes``. Every kind, at any turn, on clean and on poor scans.

Stickers of a usual size are laid on pages of the demo, which have no codes of their own; what is read besides them is
counted as false.
"""

from __future__ import annotations

import time
from collections import Counter
from pathlib import Path

import cv2
import numpy as np
import zxingcpp

from demo import scanning as scan
from zestpail.core.reading.features.barcodes import barcodes_on
from zestpail.core.reading.opening import open_page

PAGE = Path(__file__).parents[1] / "demo" / "files" / "supplier-invoices" / "tarnwick-03.pdf"
DPI = 200
KINDS = {
    "Code39": "QHB-20418", "Code128": "PAIL/DOC/crew-list", "EAN13": "400638133393", "ITF": "12345678901231",
    "Codabar": "A40156B", "QRCode": "QHB-20418", "DataMatrix": "QHB-20418", "PDF417": "QHB-20418", "Aztec": "QHB-20418",
}  # fmt: skip
SQUARE = ("QRCode", "DataMatrix", "Aztec")
TURNS = (0, 90, 180, 270, 4, -7)
CLEAN = {"clean": (), "soft": (scan.soft,)}
POOR = {
    "noisy": (scan.noisy,), "faint": (scan.faint,), "fax": (scan.fax,), "bilevel": (scan.soft, scan.bilevel),
    "specks": (scan.specks, scan.soft), "skewed": (scan.soft, scan.skew(1.8)),
}  # fmt: skip


def main() -> None:
    page = cv2.cvtColor(np.repeat(open_page(PAGE.read_bytes(), 0).pixels[..., None], 3, 2), cv2.COLOR_RGB2GRAY)
    for name, damages in (("clean", CLEAN), ("poor", POOR)):
        began, found, false, missed = time.perf_counter(), 0, 0, Counter[str]()
        tried = 0
        for how, steps in damages.items():
            for at, (kind, text) in enumerate(KINDS.items()):
                for turn in TURNS:
                    image, wanted = _laid(page, kind, text, turn)
                    chance = np.random.default_rng((at, turn + 360))
                    for damage in steps:
                        image = damage(image, chance)
                    read = {code.text for code in barcodes_on(image, DPI)}
                    tried += 1
                    found += wanted in read
                    false += len(read - {wanted})
                    missed[f"{kind} {how}"] += wanted not in read
        seconds = (time.perf_counter() - began) / tried
        print(f"{name:6} {found} of {tried} read ({found / tried:.1%}), {false} false, {seconds:.2f} s a page")
        print(
            "       missed:", ", ".join(f"{what} {count}" for what, count in missed.most_common(8) if count) or "none"
        )
    drawn(page)


def drawn(page: np.ndarray) -> None:
    """Of pages that a program drew only dense places are looked at: what is read so, and what on the whole page."""
    count: Counter[str] = Counter()
    for kind, text in KINDS.items():
        for turn in (*TURNS, 2, 33):
            image, wanted = _laid(page, kind, text, turn)
            for scale in np.arange(0.45, 1.01, 0.05):
                small = cv2.resize(image, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
                sheet = np.full_like(image, 255)
                sheet[: small.shape[0], : small.shape[1]] = small
                dense, whole = (
                    any(one.text == wanted for one in barcodes_on(sheet, DPI, only)) for only in (True, False)
                )
                count.update({"tried": 1, "dense": dense, "whole": whole, "lost": whole and not dense})
    print("drawn:", ", ".join(f"{what} {many}" for what, many in count.items()))


def _laid(page: np.ndarray, kind: str, text: str, turn: int) -> tuple[np.ndarray, str]:
    """The page with a sticker on it, and the text that is to be read."""
    code = zxingcpp.create_barcode(text, zxingcpp.barcode_format_from_str(kind))
    drawn = np.array(zxingcpp.write_barcode_to_image(code, scale=4 if kind in SQUARE else 3))
    if kind not in SQUARE and kind != "PDF417":
        drawn = np.repeat(drawn[drawn.shape[0] // 2][None, :], 90, axis=0)
    side = int(np.hypot(*drawn.shape)) + 8
    sticker = np.full((side, side), 255, np.uint8)
    top, left = (side - drawn.shape[0]) // 2, (side - drawn.shape[1]) // 2
    sticker[top : top + drawn.shape[0], left : left + drawn.shape[1]] = drawn
    by = cv2.getRotationMatrix2D((side / 2, side / 2), turn, 1)
    sticker = np.asarray(cv2.warpAffine(sticker, by, (side, side), borderValue=255), np.uint8)
    laid = page.copy()
    y, x = laid.shape[0] - side - 160, laid.shape[1] - side - 120
    laid[y : y + side, x : x + side] = np.minimum(laid[y : y + side, x : x + side], sticker)
    return laid, code.text


if __name__ == "__main__":
    main()
