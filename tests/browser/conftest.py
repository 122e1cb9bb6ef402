"""A whole server with the demo's people, and a headless Chromium, for each file; tests that fail leave pictures."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Generator, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import pytest
from filelock import FileLock
from selenium import webdriver
from selenium.common.exceptions import WebDriverException
from selenium.webdriver.chrome.service import Service

from tests.conftest import free_port

ROOT = Path(__file__).parents[2]
LEFT_BEHIND = ROOT / "test-failures"
PLACES = ("The scanner", "E-mail that is sent")
"""What the demo's welcome says the addresses of."""


@dataclass(frozen=True)
class Server:
    address: str
    delivered: Path
    incoming: Path
    smtp_port: int
    scanner: str
    mailbox: str
    log: Path
    pid: int

    def process(self, name: str) -> int:
        """The process of that name: its parent's parent is what was started."""
        for status in Path("/proc").glob("[0-9]*/stat"):
            with contextlib.suppress(OSError):
                called, _, rest = status.read_text().partition("(")[2].rpartition(")")
                above = Path(f"/proc/{rest.split()[1]}/stat").read_text().rpartition(")")[2].split()[1]
                if (called, above) == (f"zp {name}", str(self.pid)):
                    return int(status.parent.name)
        raise ProcessLookupError(name)


@pytest.fixture(scope="module")
def server() -> Iterator[Server]:
    """A demo that nobody has used, for files of tests that count what is there."""
    with demo_server() as started:
        yield started


@pytest.fixture(scope="session")
def shared_server() -> Iterator[Server]:
    """A demo for all files of tests that keep to types and lanes of their own."""
    with demo_server() as started:
        yield started


@pytest.fixture(scope="module")
def browser() -> Iterator[webdriver.Chrome]:
    driver = open_browser()
    yield driver
    driver.quit()


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Function) -> Generator[None, pytest.TestReport, pytest.TestReport]:
    """A test that fails leaves a picture of the page and what the server said."""
    report = yield
    if report.failed and report.when == "call":
        LEFT_BEHIND.mkdir(exist_ok=True)
        driver, server = item.funcargs.get("browser"), item.funcargs.get("server") or item.funcargs.get("shared_server")
        try:
            if driver:
                driver.save_screenshot(str(LEFT_BEHIND / f"{item.name}.png"))
        except WebDriverException as problem:
            report.sections.append(("no picture", str(problem)))
        if server:
            shutil.copy(server.log, LEFT_BEHIND / f"{item.name}.log")
    return report


def open_browser() -> webdriver.Chrome:
    """Chromium without windows, which takes a third less of the processor, with a page of 1280 by 800 pixels."""
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium-headless-shell"
    for flag in (
        "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu", "--disable-background-networking",
        "--disable-component-update", "--disable-sync", "--no-first-run", "--hide-scrollbars",
        "--force-prefers-reduced-motion",
    ):  # fmt: skip
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    driver.set_window_size(1280, 800)
    width, height = driver.execute_script("return [innerWidth, innerHeight]")
    driver.set_window_size(2 * 1280 - width, 2 * 800 - height)
    return driver


@contextmanager
def demo_server() -> Iterator[Server]:
    """``./zestpail demo`` on a data folder of its own."""
    data = Path(tempfile.mkdtemp(prefix="zestpail-browser-"))
    command = [sys.executable, "-u", "-m", "zestpail", "demo", "--data", str(data), "--port", "0"]
    with (
        (data / "said.log").open("w") as log,
        FileLock(Path(tempfile.gettempdir()) / "zestpail-tests-start.lock"),  # two that start look for free ports
    ):
        smtp_port = free_port()
        environment = {**os.environ, "ZESTPAIL_SMTP_PORT": str(smtp_port), "ZESTPAIL_WORKERS": "1"}
        process = subprocess.Popen(command, stdout=log, stderr=subprocess.STDOUT, env=environment, cwd=ROOT)
        lines = welcome(process, data / "said.log")
    places = {words: line.split()[-1] for line in lines for words in PLACES if line.startswith(words)}
    yield Server(
        (data / "address").read_text(), data / "delivered", data / "incoming", smtp_port,
        *(places[words] for words in PLACES), data / "said.log", process.pid,
    )  # fmt: skip
    process.send_signal(signal.SIGINT)
    assert process.wait(180) == 0
    shutil.rmtree(data, ignore_errors=True)


def welcome(process: subprocess.Popen[bytes], log: Path) -> list[str]:
    """What the server says until it can be used."""
    while True:
        ended, lines = process.poll(), log.read_text().splitlines()
        if any(line.startswith("Ctrl-C") for line in lines):
            return lines
        assert ended is None, "\n".join(lines)
        time.sleep(0.1)
