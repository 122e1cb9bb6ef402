"""All that is known of a candidate, as numbers by name: what its finder says, where it stands, what its rivals are."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property

from zestpail.core.checks.arithmetic import Arithmetic
from zestpail.core.checks.date_order import DateOrder
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.finders import Candidate, Party, PaymentCode, SearchContext
from zestpail.core.landmarks.labels import folded
from zestpail.core.learning.amounts import Amounts, amounts_of
from zestpail.core.reading.geometry import Box
from zestpail.core.tables import ExtractedTable

Options = Mapping[str, Sequence[Candidate]]
Facts = dict[str, float]
NUMBERED = ("code", "vat_number", "iban")
"""Kinds of which everybody makes his own forms: what a value looks like would teach the habits of those taught with."""
SHORTEST_SAID = 4
"""Characters; what is shorter is in some title by chance."""
READ_APART = "reading"
"""How legible a value is says how surely it is read rightly, and nothing of its place."""
LARGER = 1.4
"""Heights of the usual print from which print is larger."""
NEAR = 3.0
"""Points by which two candidates may stand apart and still be the same place."""


@dataclass(frozen=True)
class Surroundings:
    """A document with all its candidates, as each of them is looked at."""

    context: SearchContext
    doc_type: DocumentType
    options: Options
    tables: Sequence[ExtractedTable]

    def of_field(self, field: FieldRule) -> list[Facts]:
        """What is known of each candidate of a field, in their order."""
        several = self.options[field.key]
        best = sorted((c.score for c in several), reverse=True)
        return [self._facts(field, candidate, several, best) for candidate in several]

    def _facts(
        self, field: FieldRule, candidate: Candidate, several: Sequence[Candidate], best: Sequence[float]
    ) -> Facts:
        facts = {f"part_{name}": value for name, value in candidate.parts.items() if name != READ_APART}
        facts |= {f"fact_{name}": value for name, value in candidate.facts.items()}
        facts |= _rivalry(candidate, several, best) | self._place(candidate)
        if field.kind.kind not in NUMBERED:
            facts |= _form(candidate)
        facts[f"by_{candidate.finder}"] = 1.0
        facts |= self._party(candidate) | self._coded(field, candidate)
        if field.kind.a_name or field.kind.kind == "code":
            facts |= self._in_properties(candidate)
        facts["claimed"] = self._claimed(field.key, candidate)
        facts["seen"] = min(self._seen[candidate.raw], 5) / 5
        facts |= dict.fromkeys(self._roles[field.key], 1.0)
        if field.kind.money and not candidate.made:
            facts |= self._amounts.facts(Decimal(candidate.value))
        if field.kind.sheet == "date":
            dates = sorted({c.value for key in self._dated for c in self.options[key]})
            facts["date_rank"] = dates.index(candidate.value) / max(len(dates) - 1, 1)
            facts["dates"] = min(len(dates), 5) / 5
        return facts

    def _place(self, candidate: Candidate) -> Facts:
        page = self.context.document.pages[candidate.page]
        return {
            "x0": candidate.box.x0 / page.width,
            "x1": candidate.box.x1 / page.width,
            "y": candidate.box.cy / page.height,
            "first_page": float(candidate.page == 0),
            "last_page": float(candidate.page == len(self.context.document.pages) - 1),
            "print": _larger(candidate.box.height / self._middle[candidate.page]),
        }

    def _coded(self, field: FieldRule, candidate: Candidate) -> Facts:
        """Whether a payment code on the paper says the same, or something else."""
        finders = (finder for finder in field.finders if isinstance(finder, PaymentCode))
        said = {folded(value) for finder in finders for value in finder.said(self.context)}
        return {"coded": float(folded(candidate.value) in said)} if said else {}

    def _in_properties(self, candidate: Candidate) -> Facts:
        """Whether the file says of itself that this is who made it, or that its title holds this."""
        page, value = self.context.document.pages[0], folded(candidate.value)
        said = {"author": folded(page.author), "title": folded(page.title)}
        if len(value) < SHORTEST_SAID:
            return {}
        return {name: float(value in text) for name, text in said.items() if text}

    def _party(self, candidate: Candidate) -> Facts:
        """How surely the address that it stands in, or right under, is the seller's, and the buyer's."""
        beside = [box for box in self._homes if box[0] == candidate.page and _at_home(candidate, box[1])]
        if not beside:
            return {}
        _, _, *shares = min(beside, key=lambda home: abs(home[1].cy - candidate.box.cy))
        return {"with_seller": shares[0], "with_buyer": shares[1]}

    @cached_property
    def _homes(self) -> list[tuple[int, Box, float, float]]:
        """The addresses by page, with how well the names over each fit the seller and the buyer."""
        roles = {
            field.key: finder.role
            for field in self.doc_type.fields
            for finder in field.finders
            if isinstance(finder, Party)
        }
        homes = []
        for block in self.context.blocks:
            shares = {"seller": 0.0, "buyer": 0.0}
            for key, role in roles.items():
                names = (
                    c.score for c in self.options[key] if c.page == block.page and block.box.covers_centre_of(c.box)
                )
                shares[role] = max(names, default=0.0)
            homes.append((block.page, block.box, shares["seller"], shares["buyer"]))
        return homes if roles else []

    def _claimed(self, key: str, candidate: Candidate) -> float:
        """How well the same place fits the best other field, against how well it fits this one."""
        rivals = (
            rival.score
            for other, several in self.options.items()
            if other != key
            for rival in several
            if rival.page == candidate.page and _same_place(rival, candidate)
        )
        most = max(rivals, default=0.0)
        return most / (most + candidate.score) if most else 0.0

    @cached_property
    def _middle(self) -> list[float]:
        """By page the usual height of print."""
        heights: dict[int, list[float]] = {}
        for line in self.context.lines:
            heights.setdefault(line.page, []).append(line.height)
        usual = {page: sorted(several)[len(several) // 2] for page, several in heights.items()}
        return [usual.get(page, 10.0) for page in range(len(self.context.document.pages))]

    @cached_property
    def _seen(self) -> Counter[str]:
        """How often each candidate's text stands in the document."""
        whole = "\n".join(line.text for line in self.context.lines)
        return Counter({c.raw: whole.count(c.raw) for several in self.options.values() for c in several if c.raw})

    @cached_property
    def _dated(self) -> list[str]:
        return [field.key for field in self.doc_type.fields if field.kind.sheet == "date"]

    @cached_property
    def _amounts(self) -> Amounts:
        money = [c for field in self.doc_type.fields if field.kind.money for c in self.options[field.key]]
        return amounts_of(money, self.context.rates, list(self._row_amounts()))

    def _row_amounts(self) -> Iterator[Decimal]:
        """The amounts of the column that some check adds up."""
        summed = {column for check in self.doc_type.checks if check.column_total for column in check.columns}
        for table in self.tables:
            for key, column in summed:
                if table.key == key:
                    yield from (Decimal(value) for row in table.rows if (value := row.value(column)))
                    return

    @cached_property
    def _roles(self) -> Mapping[str, list[str]]:
        """By field what the type's rules and checks make of it."""
        roles: dict[str, list[str]] = {field.key: [f"kind_{field.kind.kind}"] for field in self.doc_type.fields}
        for field in self.doc_type.fields:
            roles[field.key] += [f"role_{finder.role}" for finder in field.finders if isinstance(finder, Party)]
        for check in self.doc_type.checks:
            if isinstance(check, Arithmetic):
                for key in check.add:
                    roles[key].append("role_part")
                roles[check.equals].append("role_whole")
                if check.share:
                    roles[check.share.part].append("role_share")
            if isinstance(check, DateOrder):
                roles[check.first].append("role_first")
                roles[check.then].append("role_then")
        return roles


def _larger(ratio: float) -> float:
    """How much larger than usual the print is, in [0, 1]; what is but a little larger or smaller is as usual.

    Readers of scans draw their boxes round the ink, text layers round the line: small differences tell nothing.
    """
    return min(ratio, 4) / 4 if ratio > LARGER else 0.25


def _rivalry(candidate: Candidate, several: Sequence[Candidate], best: Sequence[float]) -> Facts:
    others = max((c.score for c in several if c.value != candidate.value), default=0.0)
    return {
        "score": candidate.score,
        "rank": 1 / (1 + sum(score > candidate.score for score in best)),
        "lead": candidate.score / (candidate.score + others) if candidate.score else 0.0,
        "same_value": min(sum(c.value == candidate.value for c in several), 4) / 4,
        "rivals": min(len(several), 10) / 10,
        "made": float(candidate.made),
    }


def _form(candidate: Candidate) -> Facts:
    text = candidate.raw.strip()
    letters, digits = sum(c.isalpha() for c in text), sum(c.isdigit() for c in text)
    return {
        "letters": letters / max(len(text), 1),
        "digits": digits / max(len(text), 1),
        "words": min(len(text.split()), 8) / 8,
        "capital": float(text[:1].isupper()),
        "capitals": float(text.isupper()),
    }


def _same_place(one: Candidate, other: Candidate) -> bool:
    return abs(one.box.x0 - other.box.x0) < NEAR and abs(one.box.cy - other.box.cy) < NEAR


def _at_home(candidate: Candidate, block: Box) -> bool:
    """Whether it stands in an address, or in the few lines under it."""
    height = candidate.box.height
    return block.y0 - height <= candidate.box.cy <= block.y1 + 5 * height and block.stacked(candidate.box) > 0
