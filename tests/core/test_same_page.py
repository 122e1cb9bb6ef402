"""A second scan of a paper is told from another paper of the same look."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from tests.core.paper import page
from zestpail.core.reading.features.page_print import BITS, NEAR, apart, page_print
from zestpail.core.reading.read import ReadPage
from zestpail.core.reading.same_page import figures, figures_in_common, same_page

INVOICE = """
Tidewell Timber Ltd        Invoice 20411
4 Slip Road Quillon        Date 14.03.2026
Telephone 0711 555 0181    VAT XQ204881

Bollard caps   12    51.60      619.20
Heaving lines   7    23.40      163.80
Together                        783.00
Account 8800001111   payable 13.04.2026
"""
SCALE = 4
"""Pixels a point."""


def printed(text: str) -> ReadPage:
    """The text as a page: what is read off it, and what it looks like."""
    reading = page(text)
    pixels = np.full((round(842 * SCALE), round(595 * SCALE)), 255, np.uint8)
    for word in reading.words:
        for symbol in word.symbols:
            at = round(symbol.box.x0 * SCALE), round(symbol.box.y1 * SCALE)
            cv2.putText(pixels, symbol.text, at, cv2.FONT_HERSHEY_SIMPLEX, 0.9, 0, 2, cv2.LINE_AA)
    return ReadPage(reading, pixels)


def soft(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    grain = np.random.default_rng(5).normal(0, 12, pixels.shape)
    return np.clip(cv2.GaussianBlur(pixels, (0, 0), 2.0) * 0.9 + 12 + grain, 0, 255).astype(np.uint8)


def turned(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    turn = cv2.getRotationMatrix2D((1190, 1684), 0.15, 1.004)
    return np.asarray(cv2.warpAffine(pixels, turn, pixels.shape[::-1], borderValue=(255,)), np.uint8)


def pale(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    shade = np.linspace(0, 40, pixels.shape[1])[None, :]
    return np.clip(150 + pixels * 0.3 - shade, 0, 255).astype(np.uint8)


def read_as(of: ReadPage, misread: dict[str, str], confidence: float = 0.6) -> ReadPage:
    """The page with words read otherwise, so surely."""
    words = tuple(
        word.model_copy(update={"text": misread[word.text], "confidence": confidence, "symbols": ()})
        if word.text in misread else word
        for word in of.reading.words
    )  # fmt: skip
    return ReadPage(of.reading.model_copy(update={"words": words}), of.pixels)


@pytest.mark.parametrize("damage", [soft, turned, pale])
def test_a_second_scan_is_the_same_paper_and_one_with_other_figures_is_not(
    damage: Callable[[NDArray[np.uint8]], NDArray[np.uint8]],
) -> None:
    first = printed(INVOICE)
    again = ReadPage(first.reading, damage(first.pixels))
    assert same_page(again, first) and same_page(first, again)
    assert apart(page_print(first.pixels), page_print(again.pixels)) <= NEAR
    for old, new in (("20411", "20412"), ("783.00", "738.00"), ("14.03.2026", "14.04.2026")):
        other = printed(INVOICE.replace(old, new))
        assert apart(page_print(first.pixels), page_print(other.pixels)) <= NEAR, "from afar they look alike"
        assert not same_page(ReadPage(other.reading, damage(other.pixels)), first), (old, new)


def test_what_is_illegible_or_misread_says_nothing_where_the_pictures_are_alike() -> None:
    first = printed(INVOICE)
    misread = {"20411": "2O4I1", "14.03.2026": "14.08.2026"}
    assert same_page(read_as(first, misread), first), "the picture of the letters says otherwise"
    assert not same_page(read_as(first, misread, 0.97), first), "what was surely read is believed"
    blotted = first.pixels.copy()
    blotted[: round(60 * SCALE), round(150 * SCALE) : round(300 * SCALE)] = 255
    lost = read_as(ReadPage(first.reading, blotted), {"20411": "", "14.03.2026": "", "XQ204881": ""})
    assert same_page(first, lost) and same_page(lost, first)


def test_pages_of_which_little_is_legible_are_not_taken_for_one_paper() -> None:
    letter = printed("Dear Sirs\nwe thank you for your letter of last week and remain\nyours faithfully 2026")
    assert not same_page(letter, letter)
    assert not same_page(printed(INVOICE), printed("\n\n".join(reversed(INVOICE.split("\n")))))


def test_prints_are_of_one_length_and_figures_are_counted() -> None:
    blank = page_print(np.full((300, 200), 255, np.uint8))
    assert len(blank) == BITS and apart(blank, blank) == 0
    one, other = figures(["Invoice", "20411", "of", "14.03.2026", "to", "7"]), figures(["20411", "20411", "No"])
    assert (one.total(), figures_in_common(one, other), figures_in_common(one, figures([]))) == (2, 0.5, 0.0)
