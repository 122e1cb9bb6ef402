"""The package in a program of one's own: what it offers, the documented example, and that no server comes with it."""

from __future__ import annotations

import json
import subprocess
import sys
from importlib import resources
from pathlib import Path

import pytest
from lxml import etree

import zestpail

ROOT = Path(__file__).parents[1]
NOTES = ROOT / "demo" / "files" / "fuel-delivery-notes"
SERVER = ("fastapi", "sqlmodel", "sqlalchemy", "procrastinate", "uvicorn", "zestpail.desk", "zestpail.store")


def test_the_documented_example_prints_vessels_and_litres_and_writes_xml(tmp_path: Path) -> None:
    done = subprocess.run(
        [sys.executable, "docs/examples/fuel_notes.py", NOTES, tmp_path],
        capture_output=True, text=True, check=True, cwd=ROOT, env={"PYTHONPATH": "src", "PATH": "/usr/bin:/bin"},
    )  # fmt: skip
    truths = [json.loads(path.read_text())["fields"] for path in sorted(NOTES.glob("*.truth.json"))]
    printed = [tuple(line.split("\t")) for line in done.stdout.splitlines()]
    assert len(printed) == len(truths) >= 8
    right = sum((truth["vessel"], truth["delivered"]) == line for truth, line in zip(truths, printed, strict=True))
    assert right >= len(truths) - 1, printed
    schema = etree.XMLSchema(etree.fromstring((resources.files("zestpail.core.writing") / "values.xsd").read_bytes()))
    written = sorted(tmp_path.glob("*.xml"))
    assert len(written) == len(truths) and all(schema.validate(etree.parse(path)) for path in written)


def test_importing_and_extracting_brings_no_server_along() -> None:
    code = (
        "import sys, zestpail; light = 'numpy' not in sys.modules; zestpail.extract, zestpail.read;"
        f"print(light, [name for name in {SERVER} if name in sys.modules])"
    )
    done = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True, cwd=ROOT,
        env={"PYTHONPATH": "src", "PATH": "/usr/bin:/bin"},
    )  # fmt: skip
    assert done.stdout == "True []\n"
    with pytest.raises(AttributeError, match="has no attribute 'guess'"):
        zestpail.guess  # noqa: B018 - as a program would ask for it


def test_pages_bytes_and_what_cannot_be_read(demo: Path, tmp_path: Path) -> None:
    hallig = demo / "hallig-01.tif"
    second = zestpail.read(hallig, [2])
    assert len(second.pages) == 1 and "0300" in {word.text for word in second.pages[0].words}, "the account"
    found = zestpail.extract((demo / "brevanne-01.pdf").read_bytes(), "supplier-invoice", lists=[suppliers(tmp_path)])
    assert (found.value("grand_total"), found.pages, found.entries["suppliers"].entry) == ("12125.82", [1], "7")
    assert found.rows("lines")[0]["line_total"]
    last = zestpail.extract(hallig, zestpail.load_type("supplier-invoice"), [2])
    assert last.pages == [2] and {one.page for one in last.fields.values()} <= {2, None}
    with pytest.raises(KeyError):
        found.value("nothing")
    for file, pages, told in (
        (hallig, [3], "There is no page 3: the file has 2 pages."),
        (tmp_path / "nowhere.pdf", [], "There is no such file."),
        (b"nothing", [], "neither a PDF nor a picture"),
    ):
        with pytest.raises(zestpail.Unreadable, match=told):
            zestpail.read(file, pages)
    with pytest.raises(zestpail.Unreadable, match="There is no document type"):
        zestpail.extract(hallig, "love-letter")


def suppliers(folder: Path) -> Path:
    path = folder / "suppliers.csv"
    path.write_text("Number;Name;VAT\n7;Ateliers Portuaires de Brévanne SARL;XQ41700553118\n8;Corrie Lamps;\n")
    return path
