"""Files in other machines' folders: there once and whole, over nothing else, taken out only as they were written."""

from __future__ import annotations

import errno
import hashlib
import os
from collections.abc import Iterator
from contextlib import ExitStack
from datetime import UTC, datetime, timedelta
from pathlib import Path, PurePosixPath
from typing import Any

import asyncssh
import boto3
import httpx
import pytest
from cryptography import x509
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat
from cryptography.x509.oid import NameOID
from moto.server import ThreadedMotoServer

from tests.delivery.servers import served, sftp_server
from zestpail.delivery import AllowedWeb, Files, Later, Refused, Taken
from zestpail.delivery.bucket import BucketFiles
from zestpail.delivery.folder import FolderFiles
from zestpail.delivery.repository import DavFiles
from zestpail.delivery.sftp import SftpFiles, host_key_of
from zestpail.standins.repository import create_app

NAME = PurePosixPath("Maren Tide/2026 100% é/licence & fee.pdf")
HOST_KEY = asyncssh.generate_private_key("ssh-ed25519")


def web(*allowed: str, secret: str = "quillon") -> AllowedWeb:
    return AllowedWeb(allowed, lambda _: secret, "house")


@pytest.fixture
def open_now() -> Iterator[ExitStack]:
    with ExitStack() as stack:
        yield stack


@pytest.fixture(params=["folder", "repository", "sftp", "bucket"])
def files(request: pytest.FixtureRequest, tmp_path: Path, open_now: ExitStack) -> Any:
    match request.param:
        case "folder":
            return FolderFiles(tmp_path / "out", tmp_path / "locks")
        case "repository":
            address = open_now.enter_context(served(create_app(tmp_path, "harbour", "quillon")))
            return DavFiles(web(f"{address}/files"), f"{address}/files/port", "harbour", "x")
        case "sftp":
            (tmp_path / "out").mkdir()
            port = open_now.enter_context(sftp_server(tmp_path, HOST_KEY))
            address = f"sftp://127.0.0.1:{port}/out"
            return SftpFiles(web(address), address, "harbour", "x", host_key_of(web(address), address)[0])
        case _:
            server = ThreadedMotoServer("127.0.0.1", 0, verbose=False)
            server.start()
            open_now.callback(server.stop)
            address = "http://{}:{}".format(*server.get_host_and_port())
            boto3.client("s3", endpoint_url=address, aws_access_key_id="a", aws_secret_access_key="quillon",
                         region_name="us-east-1").create_bucket(Bucket="papers")  # fmt: skip
            return BucketFiles(web(address), address, "papers/port", "a", "x")


def test_a_file_is_there_once_and_over_no_other(files: Files) -> None:
    assert not files.holds(NAME) and files.read(NAME) == b""
    for _ in range(2):
        files.put(NAME, b"one", {"vessel": "Maren Tide"})
    assert files.holds(NAME) and files.read(NAME) == b"one"
    with pytest.raises(Taken, match="other content"):
        files.put(NAME, b"two", {})
    assert files.read(NAME) == b"one"
    assert not files.remove(NAME, hashlib.sha256(b"two").hexdigest()) and files.holds(NAME)
    assert files.remove(NAME, hashlib.sha256(b"one").hexdigest()) and not files.holds(NAME)
    assert not files.remove(NAME, hashlib.sha256(b"one").hexdigest())


def test_a_repository_takes_a_file_with_its_properties_or_not_at_all(tmp_path: Path, open_now: ExitStack) -> None:
    address = open_now.enter_context(served(create_app(tmp_path, "harbour", "quillon")))
    files = DavFiles(web(f"{address}/files"), f"{address}/files/port", "harbour", "x")

    def misbehave(*coming: str) -> None:
        httpx.post(f"{address}/misbehave", json=list(coming))

    def lying() -> list[Path]:
        return [path for path in (tmp_path / "files").rglob("*") if path.is_file()]

    assert files.properties() == []
    misbehave("", "error")
    with pytest.raises(Later, match="answers 500"):
        files.put(NAME, b"pages", {})
    assert [path.name.startswith("arriving-") for path in lying()] == [True]
    assert not files.remove(NAME, hashlib.sha256(b"pages").hexdigest()) and lying() == []
    for fault, there in (("error", False), ("full", False), ("error after storing", True)):
        misbehave(fault)
        with pytest.raises(Later, match="no room left" if fault == "full" else "answers 500"):
            files.put(NAME, b"pages", {"vessel": "Maren Tide & <Co>", "licence": "ML-7"})
        assert files.holds(NAME) == there
    files.put(NAME, b"pages", {"vessel": "never written"})
    assert files.properties() == ["licence", "vessel"]
    page = httpx.get(f"{address}/").text
    assert "Maren Tide &amp; &lt;Co&gt;" in page and "ML-7" in page and "<p>1 files</p>" in page
    (whole,) = lying()
    whole.write_bytes(b"changed over there")
    assert not files.remove(NAME, hashlib.sha256(b"pages").hexdigest()) and files.holds(NAME), "theirs now"
    with pytest.raises(Refused, match="user or password are not right"):
        DavFiles(web(f"{address}/files", secret="other"), f"{address}/files", "harbour", "x").holds(NAME)
    with pytest.raises(Refused, match="not among the addresses"):
        DavFiles(web(f"{address}/files"), f"{address}/files/../misbehave", "harbour", "x").holds(NAME)


def self_signed(folder: Path) -> dict[str, str]:
    """A certificate that nobody else vouches for, and its key."""
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "127.0.0.1")])
    now = datetime.now(UTC)
    made = x509.CertificateBuilder(name, name, key.public_key(), x509.random_serial_number(), now, now + timedelta(1))
    pem = Encoding.PEM
    (folder / "cert.pem").write_bytes(made.sign(key, SHA256()).public_bytes(pem))
    (folder / "key.pem").write_bytes(key.private_bytes(pem, PrivateFormat.PKCS8, NoEncryption()))
    return {"ssl_certfile": str(folder / "cert.pem"), "ssl_keyfile": str(folder / "key.pem")}


def test_a_certificate_that_is_not_trusted_gets_nothing(tmp_path: Path, open_now: ExitStack) -> None:
    app = create_app(tmp_path / "there", "harbour", "quillon")
    address = open_now.enter_context(served(app, **self_signed(tmp_path)))
    with pytest.raises(Later, match="shows a certificate that is not trusted"):
        DavFiles(web(f"{address}/files"), f"{address}/files", "harbour", "x").put(NAME, b"pages", {})
    assert not [path for path in (tmp_path / "there" / "files").rglob("*") if path.is_file()]


def test_a_full_disk_is_waited_for(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    files = FolderFiles(tmp_path / "out", tmp_path / "locks")

    def full(_: int) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    with monkeypatch.context() as patched:
        patched.setattr(os, "fsync", full)
        with pytest.raises(Later, match="no space left on device"):
            files.put(NAME, b"pages", {})
        assert not files.holds(NAME), "no half of a file under its name"
    files.put(NAME, b"pages", {})
    assert [path.read_bytes() for path in (tmp_path / "out").rglob("*") if path.is_file()] == [b"pages"]


def test_another_machine_in_its_place_gets_nothing(tmp_path: Path, open_now: ExitStack) -> None:
    port = open_now.enter_context(sftp_server(tmp_path, HOST_KEY))
    address, other = f"sftp://127.0.0.1:{port}/", asyncssh.generate_private_key("ssh-ed25519")
    pinned, shown = other.export_public_key("openssh").decode().strip(), host_key_of(web(address), address)[1]
    assert shown == HOST_KEY.get_fingerprint()
    for key, secret, why in (
        (pinned, "quillon", "shows another key"), ("", "quillon", "has not shown its key"),
        (host_key_of(web(address), address)[0], "wrong", "user or password are not right"),
    ):  # fmt: skip
        with pytest.raises(Refused, match=why):
            SftpFiles(web(address, secret=secret), address, "harbour", "x", key).put(NAME, b"pages")
    assert list(tmp_path.rglob("*")) == []
    with pytest.raises(Refused, match="not among the addresses"):
        SftpFiles(web("sftp://127.0.0.1:1/"), address, "harbour", "x", pinned).holds(NAME)
    silent = "sftp://127.0.0.1:1/"
    with pytest.raises(Later, match="does not answer"):
        SftpFiles(web(silent), silent, "harbour", "x", pinned).holds(NAME)
