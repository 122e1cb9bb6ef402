"""Invoices with which something is wrong that no single paper tells: ``python -m demo.caught_invoices`` writes them.

Two of one supplier are as they should be; of the others one has each fault: sent again, under another number, scanned
again, another account, a price with two figures swapped against the order, due before it was written, ten times the
amount.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from pathlib import Path

from demo import scanning as scan
from demo.invoices import SUPPLIERS, Invoice, draw, lines_truth, swapped
from demo.make import Recipe, keep_form, open_browser, printed_invoice

FOLDER = Path(__file__).parent / "files" / "caught-invoices"
SUPPLIER = next(one for one in SUPPLIERS if one.key == "ostersiel")
ANOTHER_ACCOUNT = "XQ32 0000 2284 1190 0775"


def _drawn(seed: int) -> Invoice:
    return replace(draw(SUPPLIER, seed, 3), order=f"QHB-60{seed}")


def ordered() -> Invoice:
    """The invoice as it was ordered of which one has a price swapped."""
    return _drawn(41)


def caught() -> dict[str, Invoice]:
    """By file, what is printed on it."""
    first, second, third, fourth = (_drawn(seed) for seed in (35, 42, 44, 45))
    wrong = ordered()
    one, *others = wrong.lines
    later = timedelta(days=4)
    return {
        "as-it-should-be-1": first,
        "as-it-should-be-2": second,
        "same-number": replace(first, issued=first.issued + later, due=first.due + later),
        "another-number": replace(first, number="798004"),
        "scanned-again": second,
        "another-account": replace(third, supplier=replace(SUPPLIER, iban=ANOTHER_ACCOUNT)),
        "swapped-price": replace(wrong, lines=[replace(one, price=swapped(one.price)), *others]),
        "due-before": replace(fourth, due=fourth.issued - timedelta(days=14)),
        "ten-times": replace(_drawn(40), lines=[replace(line, price=10 * line.price) for line in first.lines]),
    }


def orders() -> list[Invoice]:
    """What was ordered of each, every order once."""
    as_ordered = {**caught(), "swapped-price": ordered()}
    return list({invoice.order: invoice for invoice in as_ordered.values()}.values())


def main() -> None:
    """Write them, each with its truth."""
    FOLDER.mkdir(exist_ok=True)
    browser = open_browser()
    try:
        for name, invoice in caught().items():
            again = name == "scanned-again"
            recipe = Recipe(SUPPLIER.key, 0, 3, "tif" if again else "pdf", (scan.soft, scan.skew(0.9)) if again else ())
            truth: dict[str, object] = {
                "type": "supplier-invoice", "pages": 1, "born_digital": not again, "adds_up": True,
                "fields": invoice.truth(), "tables": {"lines": lines_truth(invoice)},
            }  # fmt: skip
            keep_form(printed_invoice(invoice, browser), recipe, name, FOLDER, truth)
    finally:
        browser.quit()


if __name__ == "__main__":
    main()
