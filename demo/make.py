"""Makes the demo pile again: ``python -m demo.make`` (needs chromium and the Liberation and DejaVu fonts).

Templates are printed by headless Chromium, then "scanned" in software; beside each file lies its truth.
"""

from __future__ import annotations

import base64
import io
import json
import zlib
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path

import cv2
import numpy as np
import pikepdf
import pypdfium2 as pdfium
from jinja2 import Environment, FileSystemLoader, StrictUndefined
from PIL import Image
from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from demo import scanning as scan
from demo.invoices import BUYER, SUPPLIERS, Invoice, draw, lines_truth

HERE = Path(__file__).parent
OUT = HERE / "files" / "supplier-invoices"
PAGES = Environment(loader=FileSystemLoader(HERE / "templates"), undefined=StrictUndefined, autoescape=True)


@dataclass(frozen=True)
class Recipe:
    """One document of the pile: whose, how many lines, what file, and what happened to it on the way."""

    supplier: str
    seed: int
    lines: int
    form: str
    damage: tuple[scan.Damage, ...] = ()
    dpi: int = 200
    slip: bool = False


PILE = (
    Recipe("bight", 1, 3, "tif", (scan.soft, scan.skew(0.8), scan.bilevel)),
    Recipe("bight", 2, 4, "pdf-scan", (scan.punched, scan.soft, scan.skew(-1.1))),
    Recipe("bight", 3, 5, "jpg", (scan.coffee, scan.soft)),
    Recipe("bight", 4, 3, "pdf-scan", (scan.soft, scan.skew(0.4)), slip=True),
    Recipe("tarnwick", 1, 4, "jpg", (scan.soft, scan.skew(-0.6))),
    Recipe("tarnwick", 2, 3, "tif", (scan.fax,)),
    Recipe("tarnwick", 3, 5, "pdf"),
    Recipe("moewenbek", 1, 4, "pdf"),
    Recipe("moewenbek", 2, 5, "pdf-scan", (scan.soft, scan.punched, scan.skew(1.8))),
    Recipe("moewenbek", 3, 3, "tif", (scan.noisy,)),
    Recipe("hallig", 1, 26, "tif", (scan.soft, scan.skew(0.5), scan.bilevel)),
    Recipe("hallig", 2, 4, "pdf-scan", (scan.faint,)),
    Recipe("hallig", 3, 6, "jpg", (scan.soft, scan.skew(-0.9))),
    Recipe("brevanne", 1, 5, "pdf"),
    Recipe("brevanne", 2, 4, "jpg", (scan.photographed,), dpi=220),
    Recipe("brevanne", 3, 3, "tif", (scan.soft, scan.skew(-1.4), scan.bilevel)),
    Recipe("tremarec", 1, 3, "pdf-scan", (scan.soft, scan.upside_down)),
    Recipe("tremarec", 2, 4, "jpg", (scan.coffee, scan.soft, scan.skew(0.7))),
    Recipe("tremarec", 3, 4, "pdf"),
    Recipe("norrhavn", 1, 3, "pdf"),
    Recipe("norrhavn", 2, 2, "pdf-scan", (scan.soft, scan.skew(1.2))),
    Recipe("norrhavn", 3, 3, "tif", (scan.fax, scan.skew(-0.7), scan.bilevel)),
    Recipe("dredgemoor", 1, 18, "pdf"),
    Recipe("dredgemoor", 2, 5, "pdf-scan", (scan.soft, scan.skew(0.3)), dpi=300),
    Recipe("dredgemoor", 3, 17, "pdf-scan", (scan.soft, scan.punched, scan.skew(-0.5))),
    Recipe("ostersiel", 1, 4, "pdf"),
    Recipe("ostersiel", 2, 3, "jpg", (scan.faint,)),
    Recipe("ostersiel", 3, 4, "tif", (scan.soft, scan.skew(1.0), scan.bilevel)),
)


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    for old in OUT.iterdir():
        old.unlink()
    browser = open_browser()
    try:
        for recipe in PILE:
            _make(recipe, browser)
    finally:
        browser.quit()
    total = sum(file.stat().st_size for file in OUT.iterdir())
    print(f"{len(PILE)} documents, {total / 1e6:.1f} MB in {OUT}")


def keep_form(printed: bytes, recipe: Recipe, name: str, folder: Path, truth: dict[str, object]) -> None:
    """Write a form of one page, as it was printed or as a scan of it, with its truth beside it."""
    data = printed if recipe.form == "pdf" else written(scanned(printed, recipe, name), recipe)
    target = folder / f"{name}.{recipe.form.removesuffix('-scan')}"
    target.write_bytes(data)
    target.with_name(target.name + ".truth.json").write_text(json.dumps(truth, indent=1, ensure_ascii=False) + "\n")


def open_browser() -> webdriver.Chrome:
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in ("--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu"):
        options.add_argument(flag)
    return webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))


def _make(recipe: Recipe, browser: webdriver.Chrome) -> None:
    supplier = next(s for s in SUPPLIERS if s.key == recipe.supplier)
    invoice = draw(supplier, recipe.seed, recipe.lines, recipe.slip)
    printed = printed_invoice(invoice, browser)
    name = f"{recipe.supplier}-{recipe.seed:02d}"
    images = [] if recipe.form == "pdf" else scanned(printed, recipe, name)
    target = OUT / f"{name}.{recipe.form.removesuffix('-scan')}"
    if recipe.form == "pdf":
        target.write_bytes(printed)
        pages = len(pikepdf.open(io.BytesIO(printed)).pages)
    else:
        target.write_bytes(written(images, recipe))
        pages = len(images)
    truth = {
        "type": "supplier-invoice",
        "pages": pages,
        "born_digital": recipe.form == "pdf",
        "adds_up": not recipe.slip,
        "fields": invoice.truth(),
        "tables": {"lines": lines_truth(invoice)},
    }
    target.with_name(target.name + ".truth.json").write_text(json.dumps(truth, indent=1, ensure_ascii=False) + "\n")


def printed_invoice(invoice: Invoice, browser: webdriver.Chrome) -> bytes:
    """The invoice as its supplier prints it, a PDF."""
    supplier = invoice.supplier
    html = PAGES.get_template(f"{supplier.key}.html").render(
        doc=invoice, s=supplier, buyer=BUYER, day=supplier.day, money=supplier.money, before=_before
    )
    return print_page(html, browser)


def print_page(html: str, browser: webdriver.Chrome) -> bytes:
    """The page as the browser prints it, a PDF."""
    browser.get("data:text/html;base64," + base64.b64encode(html.encode()).decode())
    answer = browser.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True, "printBackground": True})
    return base64.b64decode(answer["data"])


def _before(day: date, days: int) -> date:
    return day - timedelta(days=days)


def scanned(printed: bytes, recipe: Recipe, name: str) -> list[np.ndarray]:
    chance = np.random.default_rng(zlib.crc32(name.encode()))
    images = []
    for page in pdfium.PdfDocument(printed):
        image = np.array(page.render(scale=recipe.dpi / 72, rev_byteorder=True).to_numpy()[:, :, :3])
        if recipe.form != "jpg":
            image = cv2.cvtColor(image, cv2.COLOR_RGB2GRAY)
        for damage in recipe.damage:
            image = damage(image, chance)
        images.append(image)
    return images


def written(images: list[np.ndarray], recipe: Recipe) -> bytes:
    out = io.BytesIO()
    pictures = [Image.fromarray(image) for image in images]
    dpi = (recipe.dpi, recipe.dpi)
    if recipe.form == "jpg":
        pictures[0].save(out, "JPEG", quality=68, dpi=dpi)
    elif recipe.form == "pdf-scan":
        pictures[0].save(out, "PDF", resolution=recipe.dpi, save_all=True, append_images=pictures[1:], quality=60)
    else:
        bilevel = scan.bilevel in recipe.damage or scan.fax in recipe.damage
        pictures = [p.convert("1", dither=Image.Dither.NONE) for p in pictures] if bilevel else pictures
        form = {"compression": "group4"} if bilevel else {"compression": "jpeg", "quality": 55}
        pictures[0].save(out, "TIFF", save_all=True, append_images=pictures[1:], dpi=dpi, **form)
    return out.getvalue()


if __name__ == "__main__":
    main()
