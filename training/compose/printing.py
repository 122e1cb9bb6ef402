"""Prints HTML as PDF with the Chromium of the tests: one browser for many papers."""

from __future__ import annotations

import base64
import io
from collections.abc import Iterator
from contextlib import contextmanager
from urllib.parse import quote

import pikepdf
from selenium import webdriver
from selenium.webdriver.chrome.service import Service


@contextmanager
def printer() -> Iterator[webdriver.Chrome]:
    """A browser without a window."""
    options = webdriver.ChromeOptions()
    for flag in ("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage"):
        options.add_argument(flag)
    options.binary_location = "/usr/bin/chromium"
    browser = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    try:
        yield browser
    finally:
        browser.quit()


def printed(browser: webdriver.Chrome, markup: str) -> bytes:
    """The page as a PDF, on the paper that its style asks for."""
    browser.get("data:text/html;charset=utf-8," + quote(markup))
    made = browser.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True, "printBackground": True})
    return base64.b64decode(made["data"])


def with_properties(pdf: bytes, author: str, title: str) -> bytes:
    """The same PDF that says of itself who made it and what it is."""
    out = io.BytesIO()
    with pikepdf.open(io.BytesIO(pdf)) as document:
        document.docinfo["/Author"], document.docinfo["/Title"] = author, title
        document.save(out, deterministic_id=True)
    return out.getvalue()
