"""A whole server with the demo's people, and one headless Chromium for all tests."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from tests.conftest import free_port

ROOT = Path(__file__).parents[2]


@dataclass(frozen=True)
class Server:
    address: str
    delivered: Path
    incoming: Path
    smtp_port: int
    scanner: str
    mailbox: str


@pytest.fixture(scope="session")
def server() -> Iterator[Server]:
    """``./zestpail demo`` on a data folder of its own."""
    data = Path(tempfile.mkdtemp(prefix="zestpail-browser-"))
    command = [sys.executable, "-u", "-m", "zestpail", "demo", "--data", str(data), "--port", "0"]
    smtp_port = free_port()
    environment = {**os.environ, "PYTHONPATH": "src:.", "ZESTPAIL_SMTP_PORT": str(smtp_port)}
    scanner = mailbox = ""
    process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment, cwd=ROOT)
    assert process.stdout
    for line in process.stdout:
        if line.startswith("The scanner"):
            scanner = line.split()[-1]
        if line.startswith("E-mail that is sent"):
            mailbox = line.split()[-1]
        if line.startswith("Ctrl-C"):
            break
    yield Server((data / "address").read_text(), data / "delivered", data / "incoming", smtp_port, scanner, mailbox)
    process.send_signal(signal.SIGINT)
    assert process.wait(40) == 0
    shutil.rmtree(data, ignore_errors=True)


@pytest.fixture(scope="session")
def browser() -> Iterator[webdriver.Chrome]:
    driver = open_browser()
    yield driver
    driver.quit()


def open_browser() -> webdriver.Chrome:
    """Headless Chromium with a page of exactly 1280 by 800 pixels."""
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in (
        "--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu", "--disable-background-networking",
        "--disable-component-update", "--disable-sync", "--no-first-run", "--hide-scrollbars",
    ):  # fmt: skip
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    driver.set_window_size(1280, 800)
    width, height = driver.execute_script("return [innerWidth, innerHeight]")
    driver.set_window_size(2 * 1280 - width, 2 * 800 - height)
    return driver
