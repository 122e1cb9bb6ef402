"""Codes for identity, one journal of what can be undone, a delivery for each destination; columns named by the trade.

Wordings were keys until now: names of checks, finders, sources, steps of preparation, choices of lanes and of document
types. The functions that read formats 1 also upgrade what is kept here.
"""

import json
from collections.abc import Callable
from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

from zestpail.core.document_type.upgrade import CHECKS, FINDERS, FORMAT_1, STATES, upgraded, upgraded_grid
from zestpail.store import lane_settings_1

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

RENAMED = (
    ("lane", "letter", "settings"),
    ("lane_trial", "letter", "settings"),
    ("document", "cut", "origin"),
    ("page", "by_hand", "edits"),
    ("page", "pile_id", "stack_id"),
    ("check_result", "name", "check"),
    ("delivery", "planned", "plan"),
    ("moved_dividers", "head", "header"),
)
TASKS = (("capture", "extract"), ("separate", "split"))
TYPED = ("lane", "settings"), ("lane", "draft"), ("lane_trial", "settings")
BY_WHOM = {"a person": "person", "the sheet": "sheet"}
Json = dict[str, Any]


def upgrade() -> None:
    for table, old, new in RENAMED:
        op.alter_column(table, old, new_column_name=new)
    op.execute("ALTER INDEX ix_page_pile_id RENAME TO ix_page_stack_id")
    _split_instead_of_cut()
    names = _check_codes()
    _bodies()
    _results(names)
    _values_and_pages()
    _origins()
    _deliveries()
    _journal(names)
    for old, new in TASKS:
        op.execute(
            sa.text(
                "DO $$ BEGIN IF to_regclass('procrastinate_jobs') IS NOT NULL THEN "
                f"UPDATE procrastinate_jobs SET task_name = '{new}' WHERE task_name = '{old}'; END IF; END $$"
            )
        )


def _rows(query: str, **values: Any) -> list[Any]:
    return list(op.get_bind().execute(sa.text(query), values))


def _set(table: str, column: str, number: int, value: Any) -> None:
    op.get_bind().execute(
        sa.text(f'UPDATE "{table}" SET "{column}" = CAST(:value AS jsonb) WHERE id = :number'),
        {"value": json.dumps(value), "number": number},
    )


def _each(table: str, column: str, change: Callable[[Any], Any]) -> None:
    for number, value in _rows(f'SELECT id, "{column}" FROM "{table}"'):
        changed = change(value)
        if changed != value:
            _set(table, column, number, changed)


def _split_instead_of_cut() -> None:
    op.drop_constraint("filestate", "arrived_file", type_="check")
    op.execute("UPDATE arrived_file SET state = 'split' WHERE state = 'cut'")
    op.create_check_constraint("filestate", "arrived_file", "state IN ('waiting', 'opened', 'split', 'refused')")


def _type(body: Json) -> Json:
    return upgraded(body) if body.get("format") == FORMAT_1 else body


def _lane(body: Json) -> Json:
    return lane_settings_1.upgraded(body) if body.get("format") == lane_settings_1.FORMAT_1 else body


def _bodies() -> None:
    _each("type_revision", "body", _type)
    _each("type_draft", "body", _type)
    for table, column in TYPED:
        _each(table, column, _lane)
    _each("moved_dividers", "grid", upgraded_grid)


def _check_codes() -> dict[int, dict[str, str]]:
    """For each revision, still as it was written, the code of each of its checks by the name that results had."""
    return {
        number: {_old_name(check): _code(check) for check in body.get("checks", [])}
        for number, body in _rows("SELECT id, body FROM type_revision")
    }


def _old_name(check: Json) -> str:
    kind = check["check"]
    match kind:
        case "arithmetic":
            return f"{' + '.join(check['add'])} = {check['equals']}"
        case "date order":
            return f"{check['first']} to {check['then']}"
        case "not delivered before":
            return f"not delivered before: {', '.join(check['same'])}"
        case "formula":
            return f"formula: {check['formula']}"
        case "if then":
            return f"if {check['when']['field']} then {check['then']['field']}"
        case "row product":
            return f"row product: {check['table']}.{check['equals']}"
        case "running balance":
            return f"running balance: {check['table']}"
        case "column sum":
            return f"column sum: {check['table']}.{check['column']} = {check['equals']}"
        case _:
            return f"{kind}: {check['field']}"


def _code(check: Json) -> str:
    code = CHECKS.get(check["check"], check["check"])
    match code:
        case "sum":
            return f"sum:{'+'.join(check['add'])}={check['equals']}"
        case "date_order":
            return f"date_order:{check['first']}<={check['then']}"
        case "not_delivered_before":
            return f"not_delivered_before:{','.join(check['same'])}"
        case "formula":
            return f"formula:{check['formula']}"
        case "if_then":
            return f"if_then:{_condition(check['when'])}>{_condition(check['then'])}"
        case "row_product":
            return f"row_product:{check['table']}.{check['equals']}"
        case "running_balance":
            return f"running_balance:{check['table']}.{check['balance']}"
        case "column_sum":
            return f"column_sum:{check['table']}.{check['column']}={check['equals']}"
        case _:
            return f"{code}:{check['field']}"


def _condition(one: Json) -> str:
    state = one.get("state", "is there")
    return f"{one['field']}:{STATES.get(state, state)}:{'|'.join(one.get('values', ()))}"


def _renamed_result(name: str, codes: dict[str, str]) -> str:
    if name == "pages read and cut":
        return "pages:split"
    if name.startswith("pages read "):
        return f"pages:unread:{name.removeprefix('pages read ')}"
    return codes.get(name, name)


def _results(names: dict[int, dict[str, str]]) -> None:
    query = 'SELECT r.id, r."check", d.revision_id FROM check_result r JOIN document d ON d.id = r.document_id'
    for number, name, revision_id in _rows(query):
        op.get_bind().execute(
            sa.text('UPDATE check_result SET "check" = :code WHERE id = :number'),
            {"code": _renamed_result(name, names.get(revision_id, {})), "number": number},
        )


def _values_and_pages() -> None:
    for old, new in (FINDERS | BY_WHOM).items():
        op.get_bind().execute(
            sa.text("UPDATE field_value SET finder = :new WHERE finder = :old"), {"old": old, "new": new}
        )
    op.execute("UPDATE page SET source = 'text_layer' WHERE source = 'text layer'")
    _each("page", "edits", _edits)


def _edits(edits: Json) -> Json:
    return edits | {"without": [step.replace(" ", "_") for step in edits["without"]]} if edits.get("without") else edits


def _origins() -> None:
    _each("document", "origin", lambda origin: {key: value for key, value in origin.items() if value is not None})
    _each("document", "tables", _tables)


def _tables(tables: Json) -> Json:
    return {key: _table(key, about) for key, about in tables.items()}


def _table(key: str, about: Json) -> Json:
    strips = [{("header" if name == "head" else name): value for name, value in strip.items()}
              for strip in about.get("strips", [])]  # fmt: skip
    return {**about, "key": about.get("key", key), "rows": [], "strips": strips}


def _deliveries() -> None:
    op.add_column("delivery", sa.Column("place", sa.String(), server_default="", nullable=False))
    op.add_column("delivery", sa.Column("path", sa.String(), server_default="", nullable=False))
    for name in ("place", "path"):
        op.alter_column("delivery", name, server_default=None)
    op.create_index(op.f("ix_delivery_place"), "delivery", ["place"])
    query = (
        "SELECT d.id, d.document_id, d.destination, d.state, d.attempts, d.counter, d.plan, d.receipt, d.sent_at, "
        "l.settings FROM delivery d JOIN document o ON o.id = d.document_id "
        "JOIN batch b ON b.id = o.batch_id JOIN lane l ON l.id = b.lane_id"
    )
    for number, document_id, folder, state, attempts, counter, plan, receipt, sent_at, settings in _rows(query):
        op.get_bind().execute(
            sa.text("UPDATE delivery SET destination = 'folder', place = :place, path = :path WHERE id = :number"),
            {"place": folder if plan else "", "path": plan.get("path", ""), "number": number},
        )
        _set("delivery", "plan", number, _folder_plan(folder, plan, settings) if plan else {})
        _set("delivery", "receipt", number, _receipt(receipt) if receipt else {})
        for code, own_plan, own_receipt in _others(plan, receipt):
            op.get_bind().execute(
                sa.text(
                    "INSERT INTO delivery (document_id, destination, state, attempts, counter, place, path, plan, "
                    "receipt, sent_at) VALUES (:document_id, :code, :state, :attempts, :counter, '', '', "
                    "CAST(:plan AS jsonb), CAST(:receipt AS jsonb), :sent_at)"
                ),
                {
                    "document_id": document_id, "code": code, "state": state, "attempts": attempts, "counter": counter,
                    "plan": json.dumps(own_plan), "receipt": json.dumps(own_receipt), "sent_at": sent_at,
                },
            )  # fmt: skip


FORMATS = {"amount": "money", "quantity": "number", "percentage": "number", "date": "date"}


def _columns(columns: list[list[str]]) -> list[Json]:
    return [{"heading": heading, "format": FORMATS.get(kind, "text")} for heading, kind in columns]


def _folder_plan(folder: str, plan: Json, settings: Json) -> Json:
    first = next(one for one in settings["destinations"] if one["destination"] == "folder")
    csv, xlsx = plan.get("sheets") or (first["csv"], first["xlsx"])
    rows = [
        {"title": "Documents", "csv": csv, "xlsx": xlsx, "columns": _columns(plan["columns"]), "rows": [plan["cells"]]}
    ]
    rows += [
        {"title": one["title"], "csv": one["files"][0], "xlsx": one["files"][1], "columns": _columns(one["columns"]),
         "rows": one["rows"]}
        for one in plan.get("tables", [])
    ]  # fmt: skip
    return {"destination": "folder", "reference": plan["reference"], "pdf": plan["pdf"], "folder": folder,
            "path": plan["path"], "rows": rows}  # fmt: skip


def _receipt(receipt: Json) -> Json:
    kept = ("reference", "bytes", "sha256", "file", "rows", "tables")
    return {name: receipt[name] for name in kept if name in receipt}


def _others(plan: Json, receipt: Json) -> list[tuple[str, Json, Json]]:
    """Of one that was also mailed or handed on, the deliveries that these are now."""
    if not plan:
        return []
    name = plan["path"].rpartition("/")[2]
    base = {"reference": plan["reference"], "pdf": plan["pdf"], "name": name}
    done = {key: receipt[key] for key in ("reference", "bytes", "sha256")} if receipt else {}
    found = []
    if plan.get("mail"):
        sent = done | {"mail": plan["mail"]} if receipt.get("mail") else {}
        found.append(("mail", {**base, "destination": "mail", "to": plan["mail"]}, sent))
    if plan.get("hand_on"):
        own = {**base, "destination": "lane", "lane": plan["hand_on"], "channel": plan["channel"]}
        sent = done | {"handed_on": receipt["handed_on"]} if receipt.get("handed_on") else {}
        found.append(("lane", own, sent))
    return found


def _journal(names: dict[int, dict[str, str]]) -> None:
    """What could be undone still can be: review and ribbon kept it in the trail, the bench in steps of its own."""
    op.create_table(
        "journal_entry",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("subject", sa.String(), nullable=False),
        sa.Column("message", sa.String(), nullable=False),
        sa.Column("before", postgresql.JSONB(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("undone_at", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_journal_entry_subject"), "journal_entry", ["subject"])
    op.create_index(op.f("ix_journal_entry_at"), "journal_entry", ["at"])
    revisions = dict(_rows("SELECT id, revision_id FROM document"))
    for what, undone, subject in (
        ("changed", "undone", lambda event: f"document {event.document_id}"),
        ("ribbon mended", "ribbon mending taken back", lambda event: f"batch {event.batch_id}"),
    ):
        gone = {after["event"] for (after,) in _rows("SELECT after FROM event WHERE what = :what", what=undone)}
        query = (
            "SELECT id, document_id, batch_id, person_id, at, before, after FROM event WHERE what = :what ORDER BY id"
        )
        for event in _rows(query, what=what):
            codes = names.get(revisions.get(event.document_id, 0), {})
            if event.id not in gone:
                _entry(
                    subject(event), event.after.get("said", ""), _before(event.before, codes), event.person_id, event.at
                )
    steps = (
        "SELECT s.before, s.labels, s.said, s.person_id, s.at, d.key FROM draft_step s "
        "JOIN type_draft d ON d.id = s.draft_id ORDER BY s.id"
    )
    for body, labels, said, person_id, at, key in _rows(steps):
        _entry(f"type {key}", said, {"body": _type(body), "labels": labels}, person_id, at)
    op.drop_table("draft_step")


def _before(before: Json, codes: dict[str, str]) -> Json:
    new = dict(before)
    if "waived" in new:
        new["waived"] = {_renamed_result(name, codes): by for name, by in new["waived"].items()}
    if "values" in new:
        new["values"] = {key: _value(value) for key, value in new["values"].items()}
    if new.get("tables"):
        new["tables"] = _tables(new["tables"])
    if new.get("dividers"):
        new["dividers"] = {layout: upgraded_grid(grid) if grid else None for layout, grid in new["dividers"].items()}
    if "pages" in new:
        new["pages"] = {number: _page(page) for number, page in new["pages"].items()}
    return new


def _value(value: Json) -> Json:
    return value | {"finder": (FINDERS | BY_WHOM).get(value.get("finder", ""), value.get("finder", ""))}


def _page(page: Json) -> Json:
    new = {{"by_hand": "edits", "pile_id": "stack_id"}.get(name, name): value for name, value in page.items()}
    if "edits" in new:
        new["edits"] = _edits(new["edits"])
    if new.get("source") == "text layer":
        new["source"] = "text_layer"
    return new


def _entry(subject: str, message: str, before: Json, person_id: int | None, at: Any) -> None:
    op.get_bind().execute(
        sa.text(
            "INSERT INTO journal_entry (subject, message, before, person_id, at) "
            "VALUES (:subject, :message, CAST(:before AS jsonb), :person_id, :at)"
        ),
        {"subject": subject, "message": message, "before": json.dumps(before), "person_id": person_id, "at": at},
    )


def downgrade() -> None:
    raise NotImplementedError("codes cannot be turned back into wordings; bring back the backup of before")
