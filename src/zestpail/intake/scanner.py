"""A sheet-fed scanner, spoken to over HTTP (docs/scanner.md): asked for sheet after sheet until there is no more paper.

Another device is another class with these five methods. A sheet can be asked for again until the next one is.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, Protocol

import httpx
from pydantic import BaseModel, ConfigDict

WAIT = 60.0
"""Seconds that a sheet may take."""


class ScanSettings(BaseModel):
    """How a pile is scanned."""

    model_config = ConfigDict(frozen=True)

    dpi: int = 200
    colours: Literal["black and white", "grey", "colour"] = "black and white"
    duplex: bool = True


@dataclass(frozen=True)
class Device:
    """What a scanner tells of itself."""

    name: str
    sheets: int
    """How many lie in the feeder, as far as it knows."""
    dpi: tuple[int, ...]
    colours: tuple[str, ...]
    duplex: bool


class Stopped(Exception):
    """The scanner stopped at a sheet: "paper jam", "double feed" or "no paper". A person has to see to it."""


class NoScanner(Exception):
    """It does not answer, or forgot the job."""


class Scanner(Protocol):
    def device(self) -> Device:
        """Raises NoScanner."""

    def begin(self, settings: ScanSettings) -> str:
        """Begin a job; returns its name. Raises Stopped without paper, NoScanner."""

    def sheet(self, job: str, number: int) -> bytes | None:
        """The sheet of that number, from 1: a TIFF of one or two sides; None at the end. Raises Stopped, NoScanner."""

    def go_on(self, job: str, keep: bool) -> None:
        """A person saw to what stopped it; with ``keep``, sheets fed double count as one. Raises NoScanner."""


class HttpScanner:
    """A scanner at an address."""

    def __init__(self, address: str) -> None:
        self._address = address.rstrip("/")

    def device(self) -> Device:
        details = self._asked("GET", "/device").json()
        try:
            return Device(str(details["name"]), int(details["sheets"]), tuple(details["dpi"]),
                          tuple(details["colours"]), bool(details["duplex"]))  # fmt: skip
        except (KeyError, TypeError, ValueError) as error:
            raise NoScanner("What answers at the scanner's address is no scanner.") from error

    def begin(self, settings: ScanSettings) -> str:
        return str(self._asked("POST", "/jobs", settings.model_dump()).json()["job"])

    def sheet(self, job: str, number: int) -> bytes | None:
        answer = self._asked("GET", f"/jobs/{job}/sheets/{number}")
        return None if answer.status_code == httpx.codes.NO_CONTENT else answer.content

    def go_on(self, job: str, keep: bool) -> None:
        self._asked("POST", f"/jobs/{job}/go-on", {"keep": keep})

    def _asked(self, method: str, path: str, body: object = None) -> httpx.Response:
        try:
            answer = httpx.request(method, self._address + path, json=body, timeout=WAIT, trust_env=False)
            if answer.status_code == httpx.codes.CONFLICT:
                raise Stopped(str(answer.json()["problem"]))
            answer.raise_for_status()
        except (httpx.HTTPError, ValueError, KeyError) as error:
            raise NoScanner("The scanner does not answer, or has forgotten the pile at hand.") from error
        return answer
