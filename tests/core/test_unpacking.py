"""E-mails and zips are taken apart, and what is wrong with them is said in one sentence."""

from __future__ import annotations

import io
import zipfile
from email.message import EmailMessage
from pathlib import Path

import pytest

from zestpail.core.problems import Unreadable
from zestpail.core.reading.limits import Limits
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.read import read_page
from zestpail.core.reading.unpacking import plain_text, unpacked_files
from zestpail.core.writing.text_pages import text_pdf

PHOTO = Path(__file__).parent / "files" / "photo.heic"


def mail(html: bool = False) -> bytes:
    message = EmailMessage()
    message["From"] = "Brine & Co <office@brine.example>"
    message["Subject"] = "Rechnung für März"
    message["Date"] = "Mon, 02 Mar 2026 09:00:00 +0000"
    if html:
        message.set_content("<html><style>p {}</style><p>Guten Tag,<br>zwei &amp; drei</p></html>", subtype="html")
    else:
        message.set_content("Guten Tag,\n\nanbei zwei Rechnungen.\n")
    for name in ("eins.pdf", "zwei.pdf"):
        message.add_attachment(b"%PDF-1.4 " + name.encode(), maintype="application", subtype="pdf", filename=name)
    message.add_attachment(message_within())
    return message.as_bytes()


def message_within() -> EmailMessage:
    message = EmailMessage()
    message["Subject"] = "inner"
    message.set_content("inner text")
    return message


def zipped(**files: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as package:
        for name, data in files.items():
            package.writestr(name, data)
    return out.getvalue()


def test_an_e_mail_is_its_attachments_and_its_text() -> None:
    package = unpacked_files(mail())
    assert package
    assert [(file.name, file.text) for file in package.files] == [
        ("eins.pdf", False), ("zwei.pdf", False), ("text of the e-mail.txt", True),
    ]  # fmt: skip
    assert package.values == {
        "mail_sender": "office@brine.example", "mail_subject": "Rechnung für März",
        "mail_date": "Mon, 02 Mar 2026 09:00:00 +0000",
    }  # fmt: skip
    assert len(package.left_out) == 1
    of_html = unpacked_files(mail(html=True))
    assert of_html
    assert of_html.files[-1].data.decode().splitlines() == [
        "From: Brine & Co <office@brine.example>", "Date: Mon, 02 Mar 2026 09:00:00 +0000",
        "Subject: Rechnung für März", "", "Guten Tag,", "zwei & drei",
    ]  # fmt: skip


def test_a_zip_is_its_files_and_others_are_no_packages() -> None:
    package = unpacked_files(zipped(a=b"one", **{"notes.txt": b"two", "../../etc/passwd": b"three"}))
    assert package
    assert [(file.name, file.data, file.text) for file in package.files] == [
        ("a", b"one", False), ("notes.txt", b"two", True), ("../../etc/passwd", b"three", False),
    ]  # fmt: skip
    for other in (b"", b"%PDF-1.7\n", b"Total: 5\nNet: 3\n\n", b"no headers at all", b"\x89PNG"):
        assert unpacked_files(other) is None


@pytest.mark.parametrize(
    ("data", "message"),
    [
        (zipped(a=b"x" * 100)[:60], "damaged"),
        (zipped(), "damaged|empty"),
        (zipped(**{str(at): b"" for at in range(501)}), "501 files"),
        (zipped(a=b"0" * 20_000), "unpacks to more than"),
        (b"From: a@b.example\nDate: today\nSubject: x\n\n", "neither a text nor attachments"),
    ],
    ids=["cut short", "empty", "too many files", "too large unpacked", "no content"],
)
def test_packages_that_are_not_taken(data: bytes, message: str) -> None:
    if data[:4] != b"PK\3\4" and data[:2] == b"PK":
        data = b"PK\3\4" + data[4:]
    with pytest.raises(Unreadable, match=message):
        unpacked_files(data, Limits(max_bytes=10_000))


def test_text_becomes_pages_that_are_read_as_they_are() -> None:
    long = "Kran 2 am 3. März um 07:30 für die Ostrava Star\n\n" + "wort " * 60 + "\n" + "zeile\n" * 60
    read = read_page(open_page(text_pdf(long, "Buchung"), 0))
    assert read.reading.source == "text_layer"
    message = [word.text for word in read.reading.words]
    assert message[:11] == ["Kran", "2", "am", "3.", "März", "um", "07:30", "für", "die", "Ostrava", "Star"]
    assert message.count("wort") == 60
    with pytest.raises(Unreadable, match="at most 6000"):
        text_pdf("x\n" * 20_001, "too long")
    assert plain_text("a.TXT", b"x") and not plain_text("a.pdf", b"x")


def test_a_photo_of_a_telephone_is_opened() -> None:
    words = {word.text for word in read_page(open_page(PHOTO.read_bytes(), 0)).reading.words}
    assert {"FD-20418", "Brine", "Petrel"} <= words
