"""Style, scripts, fonts and pictures of the interface, at an address that changes with what they hold.

So a browser asks for each of them once and not with every page (RFC 8246), and never mixes those of two releases.
"""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import Any

from starlette.responses import Response
from starlette.staticfiles import StaticFiles

FILES = Path(__file__).parents[1] / "static"
FOR_GOOD = "public, max-age=31536000, immutable"


def _held(folder: Path) -> str:
    """A name for everything that lies there."""
    told = hashlib.sha256()
    for file in sorted(path for path in folder.rglob("*") if path.is_file()):
        told.update(file.relative_to(folder).as_posix().encode() + b"\0" + file.read_bytes())
    return told.hexdigest()[:12]


PLACE = f"/static/{_held(FILES)}"


class Unchanging(StaticFiles):
    """Files that a browser may keep: at this address there is never anything else."""

    def file_response(self, *settings: Any, **named: Any) -> Response:
        answer = super().file_response(*settings, **named)
        answer.headers["cache-control"] = FOR_GOOD
        return answer
