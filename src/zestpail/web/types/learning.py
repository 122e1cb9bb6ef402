"""Learning from samples: at the bench with one press, and the page of all learnings of a type."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.types import drafts, from_review, learning, roles
from zestpail.desk.types.bench import proposing, questions
from zestpail.desk.types.bench.edits import At
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place
from zestpail.web.types.bench import Done, changed

router = APIRouter(prefix="/types", dependencies=AUTHORS)


@router.post("/{key}/learn")
def learn(
    request: Request, desk: Here, me: Me, key: str, version: Annotated[int, Form()],
    sample: Annotated[int, Form()] = 0, field: Annotated[str, Form()] = "",
) -> Response:  # fmt: skip
    """Learn from the labelled samples for training; the proof strip shows what that does."""
    at = At(key, version, me.id)
    return changed(
        request, desk, key, sample or None, field, lambda: Done(message=learning.learn_from_samples(desk.store, at))
    )


@router.post("/{key}/questions")
def ask(
    request: Request, desk: Here, me: Me, key: str, version: Annotated[int, Form()],
    sample: Annotated[int, Form()] = 0, text: Annotated[str, Form()] = "",
) -> Response:  # fmt: skip
    """A field for each question."""
    at = At(key, version, me.id)
    return changed(
        request, desk, key, sample or None, "",
        lambda: Done(at_hand=questions.add_questions(desk.store, at, text)),
    )  # fmt: skip


@router.post("/{key}/proposals/keep")
def keep(
    request: Request, desk: Here, me: Me, key: str, version: Annotated[int, Form()], sample: Annotated[int, Form()],
    chosen: Annotated[list[str], Form()],
) -> Response:  # fmt: skip
    """Make fields of proposals."""
    at = At(key, version, me.id)
    return changed(
        request, desk, key, sample, "",
        lambda: Done(at_hand=proposing.keep(desk.store, at, sample, chosen), proposing=True),
    )  # fmt: skip


@router.post("/{key}/proposals/throw-away")
def throw_away(
    request: Request, desk: Here, key: str, sample: Annotated[int, Form()], field: Annotated[str, Form()] = "",
    chosen: Annotated[list[str] | None, Form()] = None,
) -> Response:  # fmt: skip
    """Show proposals no more; without any chosen, show again what was thrown away."""

    def thrown() -> Done:
        proposing.throw_away(desk.store, sample, chosen or ())
        return Done(proposing=True)

    return changed(request, desk, key, sample, field, thrown)


@router.get("/{key}/learning")
def learned(request: Request, desk: Here, me: Me, key: str) -> Response:
    """All learnings, and which samples are for training and which for testing."""
    return place(
        request, "types/learning.html", key=key, kind=drafts.draft_type(desk.store, key),
        learnings=learning.learnings(desk.store, key), roles=roles.roles_view(desk.store, key),
        reviewed=from_review.offered(desk.store, key, me.closed),
    )  # fmt: skip


@router.get("/{key}/learning/{number}/figures")
def figures(request: Request, desk: Here, key: str, number: int) -> Response:
    """How much of the samples one learning finds right, as cells of its row."""
    return page(request, "types/learning_figures.html", figures=learning.figures_of(desk.store, key, number))


@router.post("/{key}/learning/use")
def use(desk: Here, me: Me, key: str, number: Annotated[int, Form()] = 0) -> Response:
    """Make the draft go by a learning; by none with number 0."""
    learning.go_by(desk.store, key, number or None, me.id)
    return _back(key)


@router.post("/{key}/learning/{number}/remove")
def remove(desk: Here, me: Me, key: str, number: int) -> Response:
    learning.remove_learning(desk.store, key, number, me.id)
    return _back(key)


@router.post("/{key}/learning/take")
def take(desk: Here, me: Me, key: str, documents: Annotated[list[int] | None, Form()] = None) -> Response:
    """Make samples of reviewed documents."""
    shown = {one.document for one in from_review.offered(desk.store, key, me.closed)}
    from_review.take(desk.store, key, [one for one in documents or () if one in shown], me.id)
    return _back(key)


@router.post("/{key}/learning/keep-apart")
def keep_apart(desk: Here, me: Me, key: str) -> Response:
    """Choose by itself which labelled samples are kept for testing."""
    roles.keep_apart(desk.store, key, me.id)
    return _back(key)


def _back(key: str) -> Response:
    return RedirectResponse(f"/types/{key}/learning", status_code=303)
