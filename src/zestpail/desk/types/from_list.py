"""A reference list put to use in a document type: fields that it fills, and checks that hold the paper against it."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

from slugify import slugify
from sqlmodel import Session, select

from zestpail.core.checks import AgreesWithList, AgreesWithOrder, AnyCheck, InList
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.finders import FromList
from zestpail.core.kinds import AnyKind, Code, Firm, Iban, OneLine, VatNumber
from zestpail.core.reference.reference_list import ReferenceList, Says
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.whole_types import whole_type
from zestpail.desk.types.bench.edits import At, write
from zestpail.desk.types.drafts import draft_of, type_of_draft
from zestpail.store import Store
from zestpail.store.queries.reference import list_named
from zestpail.store.queries.types import last_revision, newest_revisions
from zestpail.store.tables import TypeDraft

_KINDS: dict[Says, AnyKind] = {"identifier": Code(), "name": Firm(), "vat_number": VatNumber(), "iban": Iban()}
SHORT = 12
"""Letters of a heading that alone would not say whose it is: "No." becomes "Supplier no."."""
HELD: tuple[Says, ...] = ("iban", "vat_number")
"""What of a list a paper can be held against, by the kind of a field."""


@dataclass(frozen=True)
class ColumnChoice:
    """A column that can fill a field; ``field`` is the one that it fills already, "" for none."""

    key: str
    name: str
    field: str


@dataclass(frozen=True)
class Held:
    """A field that can be held against a column."""

    field: str
    field_name: str
    column: str
    column_name: str
    there: bool


@dataclass(frozen=True)
class ListUse:
    """How a type uses a list, and how it could."""

    type_key: str
    type_name: str
    version: int
    names: list[tuple[str, str]]
    """The fields that may name an entry."""
    named_by: str
    columns: list[ColumnChoice]
    held: list[Held]
    needed: bool
    """Whether it is checked that an entry is found."""
    lined: bool = False
    """Whether it is a list of orders, whose lines are held against a table's rows."""
    columns_of_rows: tuple[tuple[str, str], ...] = ()
    """The columns of the type's tables."""
    order: AgreesWithOrder | None = None
    """How rows are held against its lines now."""
    in_draft: bool = False
    """Whether a draft of the type uses the list already."""


def types_for(store: Store) -> list[tuple[str, str]]:
    """The types that are worked on or published, each with its name."""
    with store.transaction() as session:
        found = {
            key: revision.body["name"] for key in newest_revisions(session) if (revision := last_revision(session, key))
        }
        for draft in session.exec(select(TypeDraft)):
            found[draft.key] = draft.body["name"]
            if draft.retired_at:
                del found[draft.key]
    return sorted(((key, str(name)) for key, name in found.items()), key=lambda one: one[1])


def list_use(store: Store, type_key: str, list_key: str) -> ListUse:
    """How the type's draft uses the list, or its newest revision where nobody works on it. Raises Missing."""
    with store.transaction() as session:
        draft = session.exec(select(TypeDraft).where(TypeDraft.key == type_key)).first()
        revision = None if draft else last_revision(session, type_key)
        if draft is None and revision is None:
            raise Missing("There is no such document type.")
        doc_type, version = whole_type(draft or revision), draft.version if draft else 0  # type: ignore[arg-type]
        model = _model(session, list_key)
    using = [
        (rule, finder)
        for rule in doc_type.fields
        for finder in rule.finders
        if isinstance(finder, FromList) and finder.list == list_key
    ]
    filled = {finder.column: rule for rule, finder in using}
    in_draft = draft is not None and bool(using or any(_of_list(check, list_key) for check in doc_type.checks))
    if model.lined:
        return replace(_use_of_orders(doc_type, version, list_key), in_draft=in_draft)
    names = [(rule.key, rule.name) for rule in doc_type.fields if rule.kind.a_name]
    used = next((finder.named_by for _, finder in using), "")
    return ListUse(
        type_key,
        doc_type.name,
        version,
        names,
        used or (names[0][0] if names else ""),
        [ColumnChoice(one.key, one.name, filled[one.key].name if one.key in filled else "") for one in model.columns],
        _held(doc_type, model),
        any(isinstance(check, InList) and check.list == list_key and not check.column for check in doc_type.checks),
        in_draft=in_draft,
    )


def _use_of_orders(doc_type: DocumentType, version: int, list_key: str) -> ListUse:
    now = next((c for c in doc_type.checks if isinstance(c, AgreesWithOrder) and c.list == list_key), None)
    names = [(rule.key, rule.name) for rule in doc_type.fields if not rule.kind.money and rule.kind.sheet == "text"]
    named_by = now.field if now else next((key for key, _ in names if "order" in key), names[0][0] if names else "")
    columns = tuple((key, name) for key, name in doc_type.all_names.items() if "." in key)
    needed = any(isinstance(check, InList) and check.list == list_key for check in doc_type.checks)
    return ListUse(
        doc_type.key, doc_type.name, version, names, named_by, [], [], needed or now is None, True, columns,
        now or _likely_order(named_by, list_key, [key for key, _ in columns]),
    )  # fmt: skip


def _likely_order(field: str, list_key: str, columns: Sequence[str]) -> AgreesWithOrder:
    """How rows are likely to be held against lines, by what the columns are called."""

    def column(*names: str) -> str:
        return next((key for key in columns if key.partition(".")[2] in names), "")

    return AgreesWithOrder(
        field=field, list=list_key, text=column("description", "text"), article=column("item_code", "code", "article"),
        quantity=column("quantity"), price=column("unit_price", "price"),
    )  # fmt: skip


def use_orders(store: Store, at: At, order: AgreesWithOrder, needed: bool) -> None:
    """Hold the rows of the type's table against the lines of the list. Raises Missing, NotDone."""
    with store.transaction() as session:
        if at.version == 0:
            at = replace(at, version=_begun(session, at.key).version)
        doc_type, model = type_of_draft(draft_of(session, at.key)), _model(session, order.list)
    if order.field not in doc_type.names or not order.columns:
        raise NotDone("Say which field names the order, and which columns are held against its lines.")
    kept = [check for check in doc_type.checks if not _of_list(check, order.list)]
    added = [order, *([InList(field=order.field, list=order.list)] if needed else [])]
    changed = doc_type.model_copy(update={"checks": (*kept, *added)})
    if changed == doc_type:
        raise NotDone("That is how it is already.")
    write(store, at, changed, f"put the list {model.name} to use")


def use_list(
    store: Store, at: At, list_key: str, named_by: str, columns: Collection[str], held: Collection[str], needed: bool
) -> None:
    """Make the type's draft use the list so: fields for columns that have none, and checks. Raises Missing, NotDone."""
    with store.transaction() as session:
        if at.version == 0:
            at = replace(at, version=_begun(session, at.key).version)
        doc_type, model = type_of_draft(draft_of(session, at.key)), _model(session, list_key)
    rule = next((rule for rule in doc_type.fields if rule.key == named_by), None)
    if rule is None:
        raise NotDone("Say which field names the entry. Nothing was changed.")
    use = list_use(store, at.key, list_key)
    fresh = [one for one in use.columns if one.key in columns and not one.field]
    taken = {field.key for field in doc_type.fields} | {table.key for table in doc_type.tables}
    fields = list(doc_type.fields)
    for one in fresh:
        fields.append(_field(model, one, list_key, named_by, rule.name, taken))
        taken.add(fields[-1].key)
    checks = [check for check in doc_type.checks if not _of_list(check, list_key)]
    checks += [InList(field=named_by, list=list_key)] if needed else []
    wanted = [one for one in use.held if f"{one.field}:{one.column}" in held]
    checks += [AgreesWithList(field=one.field, list=list_key, column=one.column) for one in wanted]
    changed = doc_type.model_copy(update={"fields": tuple(fields), "checks": tuple(checks)})
    if changed == doc_type:
        raise NotDone("That is how it is already.")
    write(store, at, changed, f"put the list {model.name} to use")


def _begun(session: Session, type_key: str) -> TypeDraft:
    """The draft of a published type that nobody works on yet."""
    revision = last_revision(session, type_key)
    if revision is None:
        raise Missing("There is no such document type.")
    draft = TypeDraft(key=type_key, body=revision.body, learned=revision.learned, based_on=revision.number)
    session.add(draft)
    session.flush()
    return draft


def _model(session: Session, list_key: str) -> ReferenceList:
    known = list_named(session, list_key)
    if known is None or known.model is None:
        raise Missing("There is no such reference list, or it has no rows yet.")
    return known.model


def _held(doc_type: DocumentType, model: ReferenceList) -> list[Held]:
    there = {check.id for check in doc_type.checks}
    pairs = [
        (rule, column)
        for says in HELD
        for column in model.saying(says)
        for rule in doc_type.fields
        if rule.kind.kind == _KINDS[says].kind and not any(isinstance(f, FromList) for f in rule.finders)
    ]
    return [
        Held(rule.key, rule.name, column.key, column.name,
             AgreesWithList(field=rule.key, list=model.key, column=column.key).id in there)
        for rule, column in pairs
    ]  # fmt: skip


def _of_list(check: AnyCheck, list_key: str) -> bool:
    return isinstance(check, InList | AgreesWithList | AgreesWithOrder) and check.list == list_key


def _field(
    model: ReferenceList, one: ColumnChoice, list_key: str, named_by: str, names: str, taken: Collection[str]
) -> FieldRule:
    column = model.column(one.key)
    says = column.says if column else ""
    name = (
        f"{names} {one.name[:1].lower()}{one.name[1:]}"
        if says in ("identifier", "") and len(one.name) < 12
        else one.name
    )
    key = slugify(name, separator="_") or "field"
    key = key if key[0].isalpha() else f"f_{key}"
    while key in taken:
        key += "_of_list"
    finder = FromList(list=list_key, column=one.key, named_by=named_by)
    return FieldRule(key=key, name=name[:60], kind=_KINDS.get(says, OneLine()), finders=(finder,))
