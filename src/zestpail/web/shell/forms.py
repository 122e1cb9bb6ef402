"""What a form sends, where its inputs are made of models and so have no names of their own here."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request


async def sent(request: Request) -> dict[str, list[str]]:
    """By the name of an input, everything that was entered or chosen in it; files are left aside."""
    form = await request.form()
    return {name: [value for value in form.getlist(name) if isinstance(value, str)] for name in form}


Sent = Annotated[dict[str, list[str]], Depends(sent)]
