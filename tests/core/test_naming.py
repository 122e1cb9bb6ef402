"""Names that stay inside their folder, on any system, over nothing else."""

from __future__ import annotations

from pathlib import PurePosixPath

from hypothesis import given
from hypothesis import strategies as st

from zestpail.core.writing.file_names import (
    MOST_BYTES,
    CounterPart,
    DatePart,
    FieldPart,
    Naming,
    TextPart,
    compose,
    never_taken,
    safe_name,
)

NAMING = Naming(
    folders=((DatePart(key="day", pattern="YYYY-MM"),),),
    file=(FieldPart(key="who"), TextPart(text=" "), CounterPart(width=3)),
)


def test_a_name_from_its_parts() -> None:
    path = compose(NAMING, {"day": "2026-09-03", "who": "Bight & Bollard"}, 7, "pdf")
    assert path == PurePosixPath("2026-09/Bight & Bollard 007.pdf")
    assert compose(NAMING, {"day": "no day", "who": None}, 7, "pdf") == PurePosixPath("undated/none 007.pdf")


@given(st.text(), st.text())
def test_nothing_in_a_value_leaves_the_folder(who: str, day: str) -> None:
    path = compose(NAMING, {"day": day, "who": who}, 1, "pdf")
    assert len(path.parts) == 2
    assert not path.is_absolute()
    assert ".." not in path.parts
    assert all(part.isprintable() and not set(part) & set('<>:"/\\|?*') for part in path.parts)
    assert all(len(part.encode()) <= MOST_BYTES + 4 for part in path.parts)


def test_hostile_and_reserved_names() -> None:
    assert safe_name("../../etc/passwd") == "etc-passwd"
    assert safe_name("CON") == "CON-"
    assert safe_name(" ... ") == "unnamed"
    assert safe_name("a\x00b\nc") == "a-b-c"


def test_a_taken_name_is_never_taken_again() -> None:
    there = {PurePosixPath("a/b.pdf"), PurePosixPath("a/b (2).pdf")}
    assert never_taken(PurePosixPath("a/b.pdf"), there.__contains__) == PurePosixPath("a/b (3).pdf")
