"""``extract`` as scripts call it: one JSON object a line, whatever the files are."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

from tests.bad_files import SENTENCES, write_bad_files


def extract(*arguments: str | Path) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "zestpail", "extract", *map(str, arguments)],
        capture_output=True, text=True, check=False, env={"PYTHONPATH": "src:.", "PATH": "/usr/bin:/bin"},
        cwd=Path(__file__).parents[1],
    )  # fmt: skip


def test_good_and_bad_files(demo: Path, tmp_path: Path) -> None:
    bad = write_bad_files(tmp_path)
    hostile = tmp_path / "..\x07 strange \n name.pdf"
    hostile.write_bytes((demo / "brevanne-01.pdf").read_bytes())
    done = extract(*bad, hostile, tmp_path / "missing.pdf", "--type", "supplier-invoice", "--json", "--ignore-embedded")
    assert done.returncode == 0, done.stderr
    found = [json.loads(line) for line in done.stdout.splitlines()]
    assert [Path(one["file"]).name for one in found] == [*SENTENCES, hostile.name, "missing.pdf"]
    for one in found[: len(bad)]:
        assert one["problems"] == [SENTENCES[Path(one["file"]).name]]
        assert one["fields"] == {}
    good, missing = found[-2:]
    assert missing["problems"] == ["There is no such file."]
    assert (good["type"], good["revision"], good["pages"]) == ("supplier-invoice", 1, [1])
    first = good["tables"]["lines"]["rows"][0]["description"]
    assert (first["value"].splitlines()[0], first["page"]) == ("Taud de protection sur mesure", 1)
    assert good["fields"]["grand_total"]["value"] == "12125.82"
    assert good["fields"]["issue_date"] == {
        "value": "2026-08-31", "raw": "31/08/2026", "confidence": good["fields"]["issue_date"]["confidence"],
        "page": 1, "box": good["fields"]["issue_date"]["box"], "finder": "beside_label",
        "others": ["2026-09-30"],
    }  # fmt: skip
    assert {"name", "passed", "message"} == set(good["checks"][0])


def test_an_unknown_type_is_said_so(demo: Path) -> None:
    done = extract(demo / "brevanne-01.pdf", "--type", "love-letter")
    assert done.returncode == 2
    assert "There is no document type “love-letter”" in done.stderr
