"""A folder of another machine over SFTP as a destination (draft-ietf-secsh-filexfer-02), its host key pinned.

A file arrives beside its name and is then renamed, which fails where the name is taken: it is there whole or not.
"""

from __future__ import annotations

import asyncio
import hashlib
from collections.abc import Awaitable, Callable, Mapping
from pathlib import PurePosixPath
from typing import ClassVar, Literal, Self, TypeVar
from urllib.parse import unquote, urlsplit

import asyncssh
from pydantic import Field

from zestpail.delivery.destination import (
    SECRET,
    Asked,
    Files,
    Later,
    Outgoing,
    Outlets,
    Plan,
    Receipt,
    Refused,
    Taken,
    Web,
)
from zestpail.delivery.filing import FilingDestination, FilingPlan, of_kind

WAIT = 30
"""Seconds in which another machine must answer."""
T = TypeVar("T")


class SftpPlan(FilingPlan):
    """Files with their names."""

    destination: Literal["sftp"] = "sftp"
    address: str
    user: str
    secret: str
    host_key: str

    @property
    def place(self) -> str:
        return self.address

    def there(self, outlets: Outlets) -> Files:
        return SftpFiles(outlets.web, self.address, self.user, self.secret, self.host_key)


class SftpDestination(FilingDestination):
    """A folder such as ``sftp://host:22/incoming``."""

    title: ClassVar[str] = "over SFTP"
    kind: ClassVar[str] = "SFTP"
    about: ClassVar[str] = "files in a folder of another machine (SFTP)"
    asks: ClassVar[tuple[Asked, ...]] = (
        Asked("address", "Address of its folder", "sftp://files.example.org/incoming"),
        Asked("user", "User"),
        Asked(SECRET, "Password or private key", long=True),
    )
    destination: Literal["sftp"] = "sftp"
    address: str = Field(min_length=1, max_length=500)
    user: str = Field(default="", max_length=100)
    secret: str = ""
    """Name of the secret that is the user's password, or private key."""
    host_key: str = Field(default="", max_length=2000)
    """By which the other machine is known, as OpenSSH writes it; nothing is sent to one that has another."""

    @property
    def shown(self) -> str:
        return f"to {self.address}"

    def met(self, outlets: Outlets) -> Self:
        """It keeps the key that the machine shows, if it has none yet, and looks whether its folder is there."""
        key = self.host_key or host_key_of(outlets.web, self.address)[0]
        files = SftpFiles(outlets.web, self.address, self.user, self.secret, key)
        if not files.holds(PurePosixPath()):
            raise Refused(f"There is no such folder: {self.address}.")
        return self.model_copy(update={"host_key": key})

    def plan(self, document: Outgoing, is_taken: Callable[[str, PurePosixPath], bool], outlets: Outlets) -> SftpPlan:
        files = SftpFiles(outlets.web, self.address, self.user, self.secret, self.host_key)
        first, *beside = self.filed(document, self.address, is_taken, files)
        return SftpPlan(
            reference=document.reference, pdf=document.pdf, version=document.version, path=first.path,
            blob=first.blob, beside=tuple(beside), address=self.address, user=self.user, secret=self.secret,
            host_key=self.host_key,
        )  # fmt: skip

    def send(self, plan: Plan, outlets: Outlets) -> Receipt:
        there = of_kind(plan, SftpPlan)
        return self.filed_now(there, there.there(outlets), outlets).model_copy(update={"at": there.address})


class SftpFiles:
    """The files of a folder over SFTP; each act is a connection of its own."""

    def __init__(self, web: Web, address: str, user: str, secret: str, host_key: str) -> None:
        self._web, self._address, self._user, self._secret, self._key = web, address, user, secret, host_key
        self._root = PurePosixPath(unquote(urlsplit(address).path) or "/")

    def holds(self, path: PurePosixPath) -> bool:
        return self._done(lambda there: there.exists(str(self._root / path)))

    def put(self, path: PurePosixPath, data: bytes, properties: Mapping[str, str] = {}) -> None:  # noqa: ARG002
        target, arriving = self._root / path, self._arriving(path)

        async def put(there: asyncssh.SFTPClient) -> None:
            if await there.exists(str(target)):
                await self._same(there, target, data)
                return
            await there.makedirs(str(target.parent), exist_ok=True)
            async with there.open(str(arriving), "wb") as file:
                await file.write(data)
            try:
                await there.rename(str(arriving), str(target))
            except asyncssh.SFTPError:
                await there.remove(str(arriving))
                await self._same(there, target, data)

        self._done(put)

    def read(self, path: PurePosixPath) -> bytes:
        async def read(there: asyncssh.SFTPClient) -> bytes:
            return await _content(there, self._root / path)

        return self._done(read)

    def remove(self, path: PurePosixPath, sha256: str) -> bool:
        target, arriving = self._root / path, self._arriving(path)

        async def remove(there: asyncssh.SFTPClient) -> bool:
            if not await there.exists(str(target)):
                if await there.exists(str(arriving)):
                    await there.remove(str(arriving))  # what broke off before it had its name
                return False
            if hashlib.sha256(await _content(there, target)).hexdigest() != sha256:
                return False
            await there.remove(str(target))
            return True

        return self._done(remove)

    def _arriving(self, path: PurePosixPath) -> PurePosixPath:
        """The name that a file has until it is whole; the same at every attempt."""
        mark = hashlib.sha256(f"{self._web.house} {self._root / path}".encode()).hexdigest()[:16]
        return (self._root / path).with_name(f".arriving-{mark}")

    async def _same(self, there: asyncssh.SFTPClient, target: PurePosixPath, data: bytes) -> None:
        """Raises Taken unless what is there has that content."""
        if await _content(there, target) != data:
            raise Taken(f"{target} is there already with other content.")

    def _done(self, act: Callable[[asyncssh.SFTPClient], Awaitable[T]]) -> T:
        self._web.permit(self._address)
        return asyncio.run(_answered(self._address, self._within(act)))

    async def _within(self, act: Callable[[asyncssh.SFTPClient], Awaitable[T]]) -> T:
        host, port = _host(self._address)
        if not self._key:
            raise Refused(f"{host} has not shown its key yet: nothing is sent to a machine that is not known.")
        secret = self._web.secret(self._secret)
        by_key = secret.lstrip().startswith("-----BEGIN")
        try:
            keys = [asyncssh.import_private_key(secret)] if by_key else []
            pinned = asyncssh.import_public_key(self._key)
        except asyncssh.KeyImportError as problem:
            raise Refused(f"A key for {host} cannot be used: {problem}.") from problem
        async with (
            asyncssh.connect(
                host, port, username=self._user, password=None if by_key else secret, client_keys=keys, config=None,
                agent_path=None, known_hosts=([pinned], [], []), connect_timeout=WAIT, login_timeout=WAIT,
            ) as link,
            link.start_sftp_client() as there,
        ):  # fmt: skip
            return await act(there)


async def _content(there: asyncssh.SFTPClient, target: PurePosixPath) -> bytes:
    if not await there.exists(str(target)):
        return b""
    async with there.open(str(target), "rb") as file:
        found: str | bytes = await file.read()
    return found if isinstance(found, bytes) else found.encode()


def host_key_of(web: Web, address: str) -> tuple[str, str]:
    """The key that the machine shows now, as OpenSSH writes it, and its fingerprint. Raises Refused, Later."""
    web.permit(address)
    host, port = _host(address)

    async def asked() -> asyncssh.SSHKey | None:
        return await asyncssh.get_server_host_key(host, port, config=None)

    key = asyncio.run(_answered(address, asked()))
    if key is None:
        raise Refused(f"{host} shows no key.")
    return " ".join(key.export_public_key("openssh").decode().split()[:2]), key.get_fingerprint()


def _host(address: str) -> tuple[str, int]:
    parts = urlsplit(address)
    if parts.scheme != "sftp" or not parts.hostname:
        raise Refused(f"{address} is no address such as sftp://host/folder.")
    return parts.hostname, parts.port or 22


async def _answered(address: str, act: Awaitable[T]) -> T:
    """What the act gives. Raises Refused, Later for whatever the other machine does or leaves undone."""
    host = urlsplit(address).hostname
    try:
        return await asyncio.wait_for(act, 4 * WAIT)
    except asyncssh.HostKeyNotVerifiable as problem:
        raise Refused(f"{host} shows another key than the one that it is known by. Nothing was sent.") from problem
    except asyncssh.PermissionDenied as problem:
        raise Refused(f"{host} does not let us in: user or password are not right.") from problem
    except (asyncssh.SFTPPermissionDenied, asyncssh.SFTPNoSuchFile, asyncssh.SFTPNoSuchPath) as problem:
        raise Refused(f"{host} does not allow it: {problem.reason}.") from problem
    except asyncssh.Error as problem:
        raise Later(f"{host} does not take it: {problem.reason}.") from problem
    except (OSError, TimeoutError) as problem:
        raise Later(f"{host} does not answer.") from problem
