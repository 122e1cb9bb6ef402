"""What is new: in one order, from any place on."""

from __future__ import annotations

from functools import partial
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict

from zestpail.api.caller import Caller
from zestpail.api.waiting import Wait, waited
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.news import KIND_WORDS, Kind
from zestpail.desk.people.tokens import Scope
from zestpail.desk.programs.news import Asked, NewsTold, newest, news

LOOKED_AGAIN = 0.5
MOST, LAST = 500, 2**63 - 1


class NewsList(BaseModel):
    """News in their order; where there is none, ``next`` is where it was."""

    model_config = ConfigDict(json_schema_extra={"examples": [{
        "news": NewsTold.model_config["json_schema_extra"]["examples"], "next": 4711,  # type: ignore[index]
    }]})  # fmt: skip

    news: list[NewsTold]
    next: int
    """What ``after`` is set to next time."""


def what_is_new(desk: Desk) -> APIRouter:
    """The routes, for this desk."""
    router = APIRouter(tags=["News"])

    @router.get("/news", description=_described())
    async def what_is_new_since(
        caller: Caller,
        after: Annotated[int | None, Query(ge=0, le=LAST, description="`next` of the answer before; the newest place "
                                           "where it is left out.", examples=[4700])] = None,
        limit: Annotated[int, Query(ge=1, le=MOST)] = 100,
        kind: Annotated[list[Kind], Query(description="All where none is named.")] = [],  # noqa: B006
        lane: Annotated[str, Query(max_length=200)] = "", wait: Wait = 0,
    ) -> NewsList:  # fmt: skip
        caller.must_have(Scope.READ)
        if after is None:
            return NewsList(news=[], next=newest(desk.store))
        ask = partial(news, desk.store, caller, Asked(after, limit, tuple(kind), lane))
        found = await waited(ask, bool, wait, LOOKED_AGAIN)
        return NewsList(news=found, next=found[-1].cursor if found else after)

    return router


def _described() -> str:
    kinds = "\n".join(f"- `{kind}`: {says}" for kind, says in KIND_WORDS.items())
    return (
        "What happened since a place in the order of all news; none is ever passed over. With ``wait`` it is answered "
        f"as soon as there is something.\n\n{kinds}"
    )
