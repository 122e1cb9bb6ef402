"""What is packed in a file that arrives: the attachments and the text of an e-mail, the files of a zip.

Everything in it is distrusted: names are shown only, sizes are looked at before anything is unpacked, and packages in
packages are not followed.
"""

from __future__ import annotations

import email
import email.policy
import io
import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from email.message import EmailMessage
from email.utils import parseaddr

from lxml.html import HTMLParser, fromstring

from zestpail.core.problems import Unreadable
from zestpail.core.reading.limits import USUAL_LIMITS, Limits
from zestpail.core.reading.mail_headers import header

MOST_FILES = 500
"""A zip with more files is refused."""
MOST_HTML = 2_000_000
"""Characters of an e-mail's HTML that are looked at."""
_HEADERS = re.compile(rb"\A(?:[!-9;-~]+:[^\r\n]*\r?\n(?:[ \t][^\r\n]*\r?\n)*)+\r?\n")
_DATED = re.compile(rb"^(?:from|date|received|message-id):", re.IGNORECASE | re.MULTILINE)


_MARKS = b"\xef\xbb\xbf \t\r\n"
"""What may stand before the first sign of XML."""


@dataclass(frozen=True)
class Packed:
    """One file of a package."""

    name: str
    data: bytes
    text: bool = False
    """Whether it is plain text."""
    data_alone: bool = False
    """Whether it is XML, which has no pages of its own."""


@dataclass(frozen=True)
class Package:
    """What was in it, and what it said of all of them."""

    files: list[Packed]
    values: dict[str, str] = field(default_factory=dict)
    """Of an e-mail: ``mail_sender``, ``mail_subject`` and ``mail_date``."""
    left_out: list[str] = field(default_factory=list)
    """Names of what is not taken, with the reason."""


def plain_text(name: str, data: bytes) -> Package | None:
    """A text file, or one of data alone, as a package of itself; None if its name does not say that it is one."""
    if name.lower().endswith(".xml") and data.lstrip(_MARKS)[:1] == b"<":
        return Package([Packed(name, data, data_alone=True)])
    return Package([Packed(name, data, text=True)]) if name.lower().endswith(".txt") and data else None


def unpacked_files(data: bytes, limits: Limits = USUAL_LIMITS) -> Package | None:
    """What is packed in the file; None if it is no package. Raises Unreadable with the reason."""
    if data[:4] == b"PK\3\4":
        return _zip(data, limits)
    head = _HEADERS.match(data[:100_000])
    return _mail(data, limits) if head and _DATED.search(head[0]) else None


def _zip(data: bytes, limits: Limits) -> Package:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as package:
            inside = [one for one in package.infolist() if not one.is_dir()]
            if len(inside) > MOST_FILES:
                raise Unreadable(f"The zip holds {len(inside)} files; at most {MOST_FILES} are taken at once.")
            if sum(one.file_size for one in inside) > limits.max_bytes:
                raise Unreadable(f"The zip unpacks to more than {limits.max_bytes // 1_000_000} MB.")
            if any(one.flag_bits & 1 for one in inside):
                raise Unreadable("The zip is protected by a password; ask the sender for one without.")
            files = [Packed(one.filename, _read(package, one), one.filename.lower().endswith(".txt")) for one in inside]
    except Unreadable:
        raise
    except Exception as error:  # of many kinds, as methods of packing are
        raise Unreadable("The zip is damaged or was cut short; ask for it again.") from error
    if not files:
        raise Unreadable("The zip is empty.")
    return Package(files)


def _read(package: zipfile.ZipFile, one: zipfile.ZipInfo) -> bytes:
    """No more than it said to be long, whatever it unpacks to."""
    with package.open(one) as file:
        data = file.read(one.file_size + 1)
    if len(data) > one.file_size:
        raise Unreadable("The zip unpacks to more than it says; it is not taken.")
    return data


def _mail(data: bytes, limits: Limits) -> Package:
    message = email.message_from_bytes(data, policy=email.policy.default)
    if not isinstance(message, EmailMessage):
        raise Unreadable("The e-mail is damaged.")
    values = {"mail_sender": parseaddr(header(message, "from"))[1], "mail_subject": header(message, "subject"),
              "mail_date": header(message, "date")}  # fmt: skip
    try:
        files, left_out = _parts(message, limits, _head(message))
    except Exception as problem:  # headers of its parts that Python's parser gives up on, in many ways
        raise Unreadable("The e-mail is damaged; ask for it again.") from problem
    if not files:
        raise Unreadable("The e-mail has neither a text nor attachments.")
    return Package(files, {key: value for key, value in values.items() if value}, left_out)


def _parts(message: EmailMessage, limits: Limits, head: str) -> tuple[list[Packed], list[str]]:
    """What is attached and the text, and what is left out."""
    files, left_out = list[Packed](), list[str]()
    for number, part in enumerate(message.iter_attachments(), start=1):
        if len(files) >= MOST_FILES:
            left_out.append(f"all after the first {MOST_FILES} attachments")
            break
        name = part.get_filename() or f"attachment {number}"
        if part.get_content_maintype() == "multipart" or part.get_content_type() == "message/rfc822":
            left_out.append(f"{name}: an e-mail within an e-mail is not unpacked")
            continue
        content = part.get_payload(decode=True)
        if not isinstance(content, bytes):
            left_out.append(f"{name}: it cannot be decoded")
        elif len(content) > limits.max_bytes:
            left_out.append(f"{name}: it has {len(content) // 1_000_000} MB")
        else:
            files.append(Packed(name, content, part.get_content_type() == "text/plain"))
    text = _text(message)
    if text.strip():
        whole = f"{head}\n\n{text}"
        files.append(Packed("text of the e-mail.txt", whole.encode("utf-8", "replace"), text=True))
    return files, left_out


def _head(message: EmailMessage) -> str:
    """Who wrote it, when and about what, as it stands over a printed e-mail."""
    said = ((name, header(message, name.lower())) for name in ("From", "Date", "Subject"))
    return "\n".join(f"{name}: {value}" for name, value in said if value)


def _text(message: EmailMessage) -> str:
    """The message's own words; those of its HTML where it has no plain ones."""
    body = message.get_body(("plain", "html"))
    if body is None:
        return ""
    try:
        wording = str(body.get_content())
    except (LookupError, UnicodeDecodeError):
        raw = body.get_payload(decode=True)
        wording = raw.decode("utf-8", "replace") if isinstance(raw, bytes) else ""
    return wording if body.get_content_type() == "text/plain" else "\n".join(_of_html(wording))


def _of_html(html: str) -> Iterator[str]:
    """The lines of an HTML text, as a browser would break them; nothing of scripts and styles."""
    tree = fromstring(f"<div>{html[:MOST_HTML]}</div>".encode("utf-8", "replace"), parser=HTMLParser(encoding="utf-8"))
    for unseen in list(tree.iter("script", "style", "head")):
        unseen.drop_tree()
    for one in tree.iter("br", "p", "div", "tr", "li", "h1", "h2", "h3", "h4", "h5", "h6"):
        one.tail = f"\n{one.tail or ''}"
    for one in tree.iter("td", "th"):
        one.tail = f" {one.tail or ''}"
    for line in str(tree.text_content()).splitlines():
        if line.strip():
            yield " ".join(line.split())
