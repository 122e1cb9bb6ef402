"""Traces of whom a paper is from: VAT numbers, accounts, hosts and telephones, each as a token that lists have too."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property

from zestpail.core.kinds.contact import Email, Phone
from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.registered import Iban, VatNumber
from zestpail.core.kinds.style import Style
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line
from zestpail.core.reference.likeness import name_of
from zestpail.core.reference.reference_list import TRACED, Entry, Says

_HOST = re.compile(r"(?:https?://|www\.)([\w-]+(?:\.[\w-]+)+)", re.IGNORECASE)
_MAIL_PROVIDERS = frozenset((
    "gmail.com", "googlemail.com", "outlook.com", "hotmail.com", "live.com", "yahoo.com", "icloud.com", "aol.com",
    "gmx.de", "gmx.net", "gmx.at", "gmx.ch", "web.de", "t-online.de", "freenet.de", "orange.fr", "wanadoo.fr",
    "free.fr", "laposte.net", "libero.it", "tin.it", "alice.it", "telefonica.net", "seznam.cz", "wp.pl", "onet.pl",
    "proton.me", "protonmail.com", "btinternet.com", "sfr.fr", "bluewin.ch", "telenet.be", "skynet.be", "ziggo.nl",
))  # fmt: skip
"""Hosts at which anybody has an address: there only the whole address tells who it is."""
LEGIBLE = 0.85
"""Confidence of a trace, in [0, 1], from which it is not taken for a misread one."""
LEAST_FIGURES = 7
"""Figures of the shortest VAT number that is compared without its country."""
LAST_FIGURES = 8
"""Figures at the end of a telephone number that are compared: how the country is dialled differs."""
_FREE = Style()
_KINDS: tuple[tuple[Says, Kind], ...] = (
    ("vat_number", VatNumber()), ("iban", Iban()), ("email", Email()), ("phone", Phone()),
)  # fmt: skip


@dataclass(frozen=True)
class Trace:
    """Something on a paper that tells whom it is from, where it stands, and how it is compared."""

    says: Says
    text: str
    tokens: tuple[str, ...]
    page: int
    line: Line
    start: int
    end: int
    shape: float
    """How well formed it is, in [0, 1]: check figures that come out."""

    @cached_property
    def legible(self) -> bool:
        """Whether it was read so surely that what it says counts against others."""
        return self.line.confidence_of(self.start, self.end) >= LEGIBLE

    @cached_property
    def box(self) -> Box:
        return self.line.box_of(self.start, self.end)


def traces_on(lines: Iterable[Line]) -> tuple[Trace, ...]:
    """All traces on the lines of a document."""
    return tuple(trace for line in lines for trace in _on_line(line))


def _on_line(line: Line) -> Iterator[Trace]:
    for says, kind in _KINDS:
        for span in kind.spot(line, _FREE):
            if tokens := tokens_for(says, span.value):
                yield _of(span, says, tokens)
    for found in _HOST.finditer(line.text):
        if tokens := tokens_for("email", found[0]):
            yield Trace("email", found[0], tokens, line.page, line, found.start(), found.end(), 1.0)


def _of(span: Span, says: Says, tokens: tuple[str, ...]) -> Trace:
    end = span.seen_to or span.end
    return Trace(says, span.value, tokens, span.line.page, span.line, span.start, end, span.shape)


def tokens_for(says: Says, text: str) -> tuple[str, ...]:
    """How what stands on a paper, or in a list, is compared; nothing for what tells nobody apart."""
    ways: dict[Says, Callable[[str], Iterator[str]]] = {
        "vat_number": _of_vat, "iban": _of_iban, "email": _of_host, "phone": _of_phone, "name": _of_name,
        "identifier": _of_code, "party": _of_code,
    }  # fmt: skip
    return tuple(f"{says}:{token}" for token in ways[says](text)) if says in ways else ()


def tokens_of(entry: Entry) -> frozenset[str]:
    """All tokens of a list's entry, its names among them."""
    told = [(says, text) for says in (*TRACED, "name", "party") for text in entry.said(says)]
    return frozenset(token for says, text in (*told, ("identifier", entry.key)) for token in tokens_for(says, text))


def bare(text: str) -> str:
    """Letters and figures only, in capitals."""
    return re.sub(r"[\W_]", "", text).upper()


def _of_vat(text: str) -> Iterator[str]:
    whole = re.sub(r"(?:MWST|TVA|IVA|MVA)$", "", bare(text))
    figures = re.sub(r"\D", "", whole)
    if len(figures) >= LEAST_FIGURES:
        yield whole
        if figures != whole and len(whole) - len(figures) <= 3:
            yield figures


def _of_iban(text: str) -> Iterator[str]:
    if len(bare(text)) >= 10:
        yield bare(text)


def _of_host(text: str) -> Iterator[str]:
    plain = text.strip().casefold()
    host = re.sub(r"^.*@|^https?://|/.*$", "", plain)
    host = host.removeprefix("www.")
    if "." in host:
        yield plain if host in _MAIL_PROVIDERS else host


def _of_name(text: str) -> Iterator[str]:
    core = name_of(text).core
    if core:
        yield core


def _of_code(text: str) -> Iterator[str]:
    if bare(text):
        yield bare(text)


def _of_phone(text: str) -> Iterator[str]:
    figures = re.sub(r"\D", "", re.sub(r"\(0\)", "", text))
    if len(figures) >= LAST_FIGURES - 1:
        yield figures[-LAST_FIGURES:]
