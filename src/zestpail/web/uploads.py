"""Files that a page sends: refused where they are too large, kept one by one, and answered."""

from __future__ import annotations

from collections.abc import Callable

from fastapi import Request, UploadFile
from fastapi.responses import JSONResponse, RedirectResponse, Response

from zestpail.desk.arrivals import may_arrive


def keep_each(request: Request, files: list[UploadFile], keep: Callable[[str, bytes], object], back: str) -> Response:
    """Keep every file; a script is told so, a plain form is led back. Raises NotDone for one that is too large."""
    for file in files:
        may_arrive(file.filename or "", file.size or 0)
        keep(file.filename or "", file.file.read())
    if request.headers.get("accept", "").startswith("application/json"):
        return JSONResponse({"batch": 0})
    return RedirectResponse(back, status_code=303)
