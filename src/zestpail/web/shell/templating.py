"""Templates and what they can say."""

from __future__ import annotations

import math
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from urllib.parse import urlencode, urlsplit

from fastapi import Request
from fastapi.responses import Response
from fastapi.templating import Jinja2Templates
from jinja2 import StrictUndefined
from markupsafe import Markup
from pydantic import BaseModel

from zestpail.core.evaluation.measure import wilson
from zestpail.core.evaluation.proof import OUTCOMES, TURNS
from zestpail.core.reading.geometry import Box
from zestpail.desk.batches.today import status
from zestpail.web.shell import static_files
from zestpail.web.shell.session import desk_of, person_of

templates = Jinja2Templates(directory=Path(__file__).parents[1] / "templates")
templates.env.undefined = StrictUndefined  # a name that Python no longer gives is a mistake, not an empty text
MAY_LACK = {"status": None, "notice": "", "refused": False, "words": ""}
"""What only some pages have."""

GONE_FOR_NOW = 503
SEGMENTS = 8


def page(request: Request, name: str, code: int = 200, **context: Any) -> Response:
    """A template, with the person at the keyboard."""
    return templates.TemplateResponse(
        request, name, {**MAY_LACK, "person": person_of(request), "path": request.url.path, **context}, status_code=code
    )


def place(request: Request, name: str, code: int = 200, **context: Any) -> Response:
    """A whole page of a place, with the status line below it."""
    me = person_of(request)
    return page(request, name, code, status=status(desk_of(request).store, me.closed if me else ()), **context)


def problem_page(request: Request, sentence: str, status: int) -> Response:
    """A sentence about what went wrong; a whole page, or for a script's request the sentence alone."""
    if request.headers.get("sec-fetch-mode", "navigate") != "navigate":
        return Response(sentence, status_code=status, media_type="text/plain; charset=utf-8")
    came_from = urlsplit(request.headers.get("referer", ""))
    back = came_from._replace(scheme="", netloc="").geturl() if came_from.netloc == request.url.netloc else ""
    again = request.url.path if status == GONE_FOR_NOW and request.method == "GET" else ""
    return page(request, "shell/problem.html", status, sentence=sentence, back=back, again=again)


def wheel(confidence: float) -> Markup:
    """The segment wheel: a slice of citrus with as many of its eight segments filled as we are sure."""
    filled = math.floor(confidence * SEGMENTS + 1e-9) if confidence < 0.995 else SEGMENTS
    segments = "".join(f'<path class="{"on" if at < filled else "off"}" d="{_SLICES[at]}"/>' for at in range(SEGMENTS))
    message = f"{confidence:.0%} sure"
    return Markup(  # noqa: S704 - made of numbers only
        f'<svg class="wheel" viewBox="0 0 20 20" role="img" aria-label="{message}"><title>{message}</title>'
        f'<circle cx="10" cy="10" r="9.2"/>{segments}</svg>'
    )


def _slices() -> list[str]:
    """Paths of the segments, clockwise from the top, in a square of 20."""
    paths = []
    for at in range(SEGMENTS):
        first, last = ((at + share) * math.tau / SEGMENTS - math.pi / 2 for share in (0.06, 0.94))
        inner = (first + last) / 2
        x0, y0 = 10 + 1.4 * math.cos(inner), 10 + 1.4 * math.sin(inner)
        (x1, y1), (x2, y2) = ((10 + 7.6 * math.cos(a), 10 + 7.6 * math.sin(a)) for a in (first, last))
        paths.append(f"M{x0:.2f} {y0:.2f}L{x1:.2f} {y1:.2f}A7.6 7.6 0 0 1 {x2:.2f} {y2:.2f}Z")
    return paths


_SLICES = _slices()


def age(since: datetime | None) -> str:
    """How long ago, as a person says it."""
    if since is None:
        return ""
    seconds = (datetime.now(UTC) - since).total_seconds()
    for size, unit in ((86400, "d"), (3600, "h"), (60, "min")):
        if seconds >= size:
            return f"{seconds // size:.0f} {unit}"
    return "just now"


def clock(moment: datetime | None) -> str:
    """The time of day, with the day if it is another one; in the machine's own time zone."""
    if moment is None:
        return ""
    local = moment.astimezone()
    today = datetime.now().astimezone().date()
    return f"{local:%H:%M}" if local.date() == today else f"{local:%d %b, %H:%M}"


def day(moment: datetime) -> str:
    """The day, in the machine's own time zone."""
    return f"{moment.astimezone():%d %b %Y}"


def counted(number: int, one: str, many: str) -> str:
    """“1 page”, “3 pages”."""
    return f"{number} {one if number == 1 else many}"


def share_of(right: int, of: int) -> str:
    """“17 of 20 (64–95 %)”, with the interval in which the true share lies (95 %); “none” of none."""
    if not of:
        return "none labelled"
    low, high = wilson(right, of)
    return f"{right} of {of} ({100 * low:.0f}–{100 * high:.0f} %)"


def weight(size: int) -> str:
    """A number of bytes as a person says it."""
    return f"{size / 1e6:.1f} MB" if size >= 1e6 else f"{math.ceil(size / 1e3)} kB"


def box_text(box: Box | None) -> str:
    """A box as it travels in addresses and data attributes."""
    return ",".join(f"{v:.1f}" for v in box) if box else ""


def snippet(page_id: int, box: Box, height: int, around: tuple[float, float] = (0, 0)) -> str:
    """Address of a picture of what is in the box (points), so many points wider and taller, that many pixels high."""
    dx, dy = around
    x0, y0, x1, y1 = box
    sides = {"x0": x0 - dx, "y0": y0 - dy, "x1": x1 + dx, "y1": y1 + dy}
    return f"/pages/{page_id}/snippet?" + urlencode(
        {name: f"{side:.1f}" for name, side in sides.items()} | {"height": height}
    )


def sort_trouble(lines: list[list[Any]], sort: str) -> list[list[Any]]:
    """The lines of a proof sheet; by how many of their cells are wrong if that is asked for."""
    if sort != "trouble":
        return lines
    return sorted(lines, key=lambda line: -sum(cell.outcome in ("wrong", "missing") for cell in line))


def paged(wanted: BaseModel, by: int) -> str:
    """The query of a list's next or previous page."""
    query = wanted.model_dump(exclude_defaults=True)
    return urlencode({**query, "start": max(int(query.get("start", 0)) + by, 0)})


templates.env.globals.update(paged=paged, static=static_files.PLACE)
templates.env.filters["sort_trouble"] = sort_trouble
templates.env.globals.update(turn_words=TURNS, outcome_words=OUTCOMES)
templates.env.globals.update(wheel=wheel, age=age, clock=clock, day=day, counted=counted, weight=weight)
templates.env.globals.update(share_of=share_of)
templates.env.globals.update(box_text=box_text, snippet=snippet)
