"""Calls over HTTP to addresses that the administrator allows, and to no others."""

from __future__ import annotations

import ssl
from collections.abc import Callable, Mapping, Sequence
from functools import cache
from time import monotonic
from urllib.parse import unquote, urlsplit

import httpx

from zestpail.delivery.destination import MOST_ANSWER, Answer, Later, Refused

WAIT, LONGEST = 30.0, 240.0
"""Seconds until the next piece of an answer, and until all of it is there."""
INSUFFICIENT_STORAGE = 507
SCHEMES = {"http": 80, "https": 443, "sftp": 22}
"""Of addresses that can be allowed, with the port that each has by itself."""


class AllowedWeb:
    """Asks addresses whose beginning is in ``allowed``, such as ``https://ledger.example.org/api``.

    Redirects are not followed: they would lead to addresses that nobody allowed.
    """

    def __init__(self, allowed: Sequence[str], secret_of: Callable[[str], str], house: str) -> None:
        self._allowed, self._secret_of, self.house = tuple(allowed), secret_of, house

    def permit(self, address: str) -> None:
        if not any(lies_in(address, one) for one in self._allowed):
            raise Refused(f"{_place(address)} is not among the addresses that the administrator allows.")

    def secret(self, name: str) -> str:
        return self._secret_of(name) if name else ""

    def call(
        self, method: str, address: str, secret: str, body: bytes = b"", head: Mapping[str, str] = {}, *,
        user: str = "", most: int = MOST_ANSWER,
    ) -> Answer:  # fmt: skip
        self.permit(address)
        headers = {"content-type": "application/json", "accept": "application/json", **head}
        if secret and not user:
            headers["authorization"] = f"Bearer {self._secret_of(secret)}"
        login = httpx.BasicAuth(user, self.secret(secret)) if user else None
        began = monotonic()
        try:
            with (
                httpx.Client(
                    timeout=WAIT, follow_redirects=False, trust_env=False, auth=login, verify=_trusted()
                ) as client,
                client.stream(method, address, content=body or None, headers=headers) as response,
            ):
                answer = bytearray()
                for piece in response.iter_bytes():
                    answer += piece
                    if len(answer) > most:
                        raise Refused(f"{_place(address)} answers with too much.")
                    if monotonic() - began > LONGEST:
                        raise Later(f"{_place(address)} did not answer in time.")
                status, told = response.status_code, dict(response.headers)
        except httpx.TimeoutException as problem:
            raise Later(f"{_place(address)} did not answer in time.") from problem
        except httpx.HTTPError as problem:
            raise Later(f"{_place(address)} {_why(problem)}.") from problem
        except (httpx.InvalidURL, UnicodeError, ValueError) as problem:
            raise Refused(f"{address} is no address.") from problem
        if 300 <= status < 400:
            raise Refused(f"{_place(address)} sends on to another address, which is not followed.")
        if status == INSUFFICIENT_STORAGE:
            raise Later(f"{_place(address)} has no room left.")
        if status >= 500 or status == 429:
            raise Later(f"{_place(address)} answers {status}.")
        return Answer(status, bytes(answer), told)


@cache
def _trusted() -> ssl.SSLContext:
    """Whose certificates are trusted: reading them takes longer than most calls, so it is done once."""
    return httpx.create_ssl_context(trust_env=False)


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
    read = [address, unquote(one.path), unquote(unquote(one.path))]  # some servers decode twice
    plain = not any(".." in path.split("/") or "\\" in path for path in read)
    return (
        same and one.scheme in SCHEMES and bool(one.hostname) and one.username is None and plain
        and (one.path == below or one.path.startswith(f"{below}/"))
    )  # fmt: skip


def _port(scheme: str, port: int | None) -> int:
    return port or SCHEMES.get(scheme, 0)


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
