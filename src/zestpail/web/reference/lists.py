"""Reference lists: added, looked at, told what their columns say, asked for, brought back."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any

from fastapi import APIRouter, File, Form, Query, Request, UploadFile
from fastapi.responses import RedirectResponse, Response
from pydantic import BaseModel, Field

from zestpail.core.checks import AgreesWithOrder
from zestpail.core.reading.limits import Limits
from zestpail.core.reference.reference_list import SAYS
from zestpail.core.reference.table_file import MOST_BYTES
from zestpail.desk.intake.arrivals import may_arrive
from zestpail.desk.reference import asking, lists
from zestpail.desk.reference.view import ROWS, Wanted, all_lists, changed_by, list_view, uses_of
from zestpail.desk.types import from_list
from zestpail.desk.types.bench.edits import At
from zestpail.web.shell.forms import Sent
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place

router = APIRouter(prefix="/lists", dependencies=AUTHORS)
Text = Annotated[str, Form()]
Rows = Annotated[Wanted, Query()]


@router.get("")
def listed(request: Request, desk: Here) -> Response:
    return place(request, "reference/lists.html", lists=all_lists(desk.store))


@router.get("/all")
def rows_of_all(request: Request, desk: Here) -> Response:
    """All lists as they stand now, for a page that is looked at."""
    return page(request, "reference/list_rows.html", lists=all_lists(desk.store))


@router.post("")
def add(
    desk: Here, me: Me, name: Text = "", file: Annotated[UploadFile | None, File()] = None, address: Text = "",
    secret: Text = "", every: Text = "hour",
) -> Response:  # fmt: skip
    """A new list, from a file or from an address."""
    if address.strip():
        key = lists.add_list(desk.store, name, me.id)
        asking.connect(desk.store, desk.web, desk.data, key, address, secret, every, me.id)
        return _at(key)
    data = _read(file)
    key = lists.add_list(desk.store, name or _plain(file), me.id)
    lists.give_file(desk.store, key, (file.filename if file else "") or "", data, me.id)
    return _at(key)


@router.get("/{key}")
def show(request: Request, desk: Here, key: str, wanted: Rows) -> Response:
    return place(request, "reference/list.html", view=list_view(desk.store, key, wanted), **_words(desk))


@router.get("/{key}/part")
def part(request: Request, desk: Here, key: str, wanted: Rows) -> Response:
    """The list as it stands now, for a page that is looked at."""
    return page(request, "reference/whole.html", view=list_view(desk.store, key, wanted), **_words(desk))


@router.post("/{key}/file")
def new_file(desk: Here, me: Me, key: str, file: Annotated[UploadFile | None, File()] = None) -> Response:
    """The list as it is now, as a file."""
    lists.give_file(desk.store, key, (file.filename if file else "") or "", _read(file), me.id)
    return _at(key)


@router.post("/{key}/columns")
def say(desk: Here, me: Me, key: str, form: Sent) -> Response:
    """What the columns say."""
    said = {name.removeprefix("says."): sent[0] for name, sent in form.items() if name.startswith("says.") and sent}
    lists.say_columns(desk.store, key, said, me.id)
    return _at(key)


@router.post("/{key}/name")
def rename(desk: Here, me: Me, key: str, name: Text = "") -> Response:
    lists.rename_list(desk.store, key, name, me.id)
    return _at(key)


@router.post("/{key}/address")
def connect(desk: Here, me: Me, key: str, address: Text = "", secret: Text = "", every: Text = "hour") -> Response:
    """Where the list is asked for, and how often."""
    asking.connect(desk.store, desk.web, desk.data, key, address, secret, every, me.id)
    return _at(key)


@router.post("/{key}/ask")
def ask(desk: Here, key: str) -> Response:
    """Ask the address now."""
    asking.ask_soon(desk.store, key)
    return _at(key)


@router.post("/{key}/accept")
def accept(desk: Here, me: Me, key: str) -> Response:
    """Take the file that waits although it drops much."""
    lists.accept(desk.store, key, me.id)
    return _at(key)


@router.post("/{key}/refuse")
def refuse(desk: Here, me: Me, key: str) -> Response:
    """Leave the list as it is."""
    lists.refuse(desk.store, key, me.id)
    return _at(key)


@router.get("/{key}/use")
def use(request: Request, desk: Here, key: str, type_key: Annotated[str, Query(alias="type")] = "") -> Response:
    """How a document type uses the list, and how it could."""
    view = list_view(desk.store, key, Wanted())
    return place(request, "reference/use.html", view=view, use=from_list.list_use(desk.store, type_key, key))


@router.post("/{key}/use/{type_key}")
def put_to_use(
    desk: Here, me: Me, key: str, type_key: str, version: Annotated[int, Form()], named_by: Text = "",
    columns: Annotated[list[str], Form()] = [], held: Annotated[list[str], Form()] = [],  # noqa: B006 - as FastAPI asks
    needed: Annotated[bool, Form()] = False,
) -> Response:  # fmt: skip
    """Put the list to use in the draft of a type."""
    from_list.use_list(desk.store, At(type_key, version, me.id), key, named_by, columns, held, needed)
    return RedirectResponse(f"/lists/{key}/use?type={type_key}", status_code=303)


class OrderForm(BaseModel):
    """How rows are held against an order's lines, as the form says it."""

    version: int
    named_by: str = ""
    text: str = ""
    article: str = ""
    quantity: str = ""
    price: str = ""
    tolerance: Decimal = Field(default=Decimal(0), ge=0, le=100)
    needed: bool = False


@router.post("/{key}/orders/{type_key}")
def orders(desk: Here, me: Me, key: str, type_key: str, form: Annotated[OrderForm, Form()]) -> Response:
    """Hold the rows of a type's table against the lines of the list's entries."""
    held = form.model_dump(include={"text", "article", "quantity", "price", "tolerance"})
    order = AgreesWithOrder(field=form.named_by, list=key, **held)
    from_list.use_orders(desk.store, At(type_key, form.version, me.id), order, form.needed)
    return RedirectResponse(f"/lists/{key}/use?type={type_key}", status_code=303)


@router.get("/{key}/revisions/{number}")
def changed(request: Request, desk: Here, key: str, number: int) -> Response:
    """What a revision changed, and what was looked up in it."""
    view, rows = changed_by(desk.store, key, number)
    uses = uses_of(desk.store, key, number)
    return place(request, "reference/changed.html", view=view, changed=rows, number=number, uses=uses)


@router.post("/{key}/revisions/{number}/bring-back")
def bring_back(desk: Here, me: Me, key: str, number: int) -> Response:
    lists.bring_back(desk.store, key, number, me.id)
    return _at(key)


@router.post("/{key}/told/{alias_id}/forget")
def forget(desk: Here, me: Me, key: str, alias_id: int) -> Response:
    """An entry is not known by this any more."""
    lists.forget_alias(desk.store, key, alias_id, me.id)
    return _at(key)


@router.post("/{key}/remove")
def remove(desk: Here, me: Me, key: str) -> Response:
    lists.remove_list(desk.store, key, me.id)
    return RedirectResponse("/lists", status_code=303)


def _words(desk: Here) -> dict[str, Any]:
    return {
        "says": SAYS,
        "times": asking.TIMES,
        "per_page": ROWS,
        "types": from_list.types_for(desk.store),
    }


def _at(key: str) -> Response:
    return RedirectResponse(f"/lists/{key}", status_code=303)


def _read(file: UploadFile | None) -> bytes:
    if file is None or not file.filename:
        return b""
    may_arrive(file.filename, file.size or 0, Limits(max_bytes=MOST_BYTES))
    return file.file.read()


def _plain(file: UploadFile | None) -> str:
    """The name of a file without its ending."""
    return ((file.filename if file else "") or "").rsplit(".", 1)[0]
