"""Calls over HTTP to addresses that the administrator allows, and to no others."""

from __future__ import annotations

import ssl
from collections.abc import Callable, Mapping, Sequence
from urllib.parse import urlsplit

import httpx

from zestpail.delivery.destination import Answer, Later, Refused

WAIT = 30.0
"""Seconds."""
MOST_ANSWER = 2_000_000
"""Bytes of an answer that are read."""


class AllowedWeb:
    """Asks addresses whose beginning is in ``allowed``, such as ``https://ledger.example.org/api``.

    Redirects are not followed: they would lead to addresses that nobody allowed.
    """

    def __init__(self, allowed: Sequence[str], secret_of: Callable[[str], str], house: str) -> None:
        self._allowed, self._secret_of, self.house = tuple(allowed), secret_of, house

    def call(self, method: str, address: str, secret: str, body: bytes = b"", head: Mapping[str, str] = {}) -> Answer:
        if not any(lies_in(address, one) for one in self._allowed):
            raise Refused(f"{_place(address)} is not among the addresses that the administrator allows.")
        headers = {"content-type": "application/json", "accept": "application/json", **head}
        if secret:
            headers["authorization"] = f"Bearer {self._secret_of(secret)}"
        try:
            with (
                httpx.Client(timeout=WAIT, follow_redirects=False, trust_env=False) as client,
                client.stream(method, address, content=body or None, headers=headers) as response,
            ):
                answer = b""
                for piece in response.iter_bytes():
                    answer += piece
                    if len(answer) > MOST_ANSWER:
                        raise Refused(f"{_place(address)} answers with too much.")
                status = response.status_code
        except httpx.TimeoutException as problem:
            raise Later(f"{_place(address)} did not answer in time.") from problem
        except httpx.HTTPError as problem:
            raise Later(f"{_place(address)} {_why(problem)}.") from problem
        except (httpx.InvalidURL, UnicodeError, ValueError) as problem:
            raise Refused(f"{address} is no address.") from problem
        if 300 <= status < 400:
            raise Refused(f"{_place(address)} sends on to another address, which is not followed.")
        if status >= 500 or status == 429:
            raise Later(f"{_place(address)} answers {status}.")
        return Answer(status, answer)


NOWHERE = AllowedWeb((), str, "")
"""May ask no address."""


def lies_in(address: str, allowed: str) -> bool:
    """Whether an address has the scheme, host and port of an allowed one, and lies at or below its path."""
    try:
        one, other = urlsplit(address), urlsplit(allowed)
        same = (one.scheme, one.hostname, _port(one.scheme, one.port)) == (
            other.scheme, other.hostname, _port(other.scheme, other.port)
        )  # fmt: skip
    except ValueError:
        return False
    below = other.path.rstrip("/")
    plain = ".." not in one.path.split("/") and "%" not in one.path and "\\" not in address
    return (
        same and one.scheme in ("http", "https") and bool(one.hostname) and one.username is None and plain
        and (one.path == below or one.path.startswith(f"{below}/"))
    )  # fmt: skip


def _port(scheme: str, port: int | None) -> int:
    return port or {"http": 80, "https": 443}.get(scheme, 0)


def _place(address: str) -> str:
    """The address without what may be secret in it."""
    try:
        parts = urlsplit(address)
        return f"{parts.scheme}://{parts.hostname}{f':{parts.port}' if parts.port else ''}{parts.path}"
    except ValueError:
        return "The address"


def _why(problem: httpx.HTTPError) -> str:
    reason: BaseException | None = problem
    while reason is not None:
        if isinstance(reason, ssl.SSLError):
            return "shows a certificate that is not trusted"
        reason = reason.__cause__ or reason.__context__
    return "does not answer"
