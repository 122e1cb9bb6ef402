"""Settings that a person can change, declared on the models that they belong to; forms are made of these, not written.

A field of a Pydantic model is a setting if it is annotated with a :class:`Setting`. What a form sends comes back as the
model's own values, so that adding a finder or a check needs no form of its own.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from pydantic import BaseModel
from pydantic_core import PydanticUndefined

Widget = Literal[
    "text", "lines", "listed", "number", "choice", "choices", "tick", "field", "fields", "column", "columns",
    "landmarks", "pairs", "group", "list", "list_column",
]  # fmt: skip
"""``lines`` has one entry a line, ``listed`` has commas between, ``pairs`` is “value = wording | wording” a line, and
``group`` holds the settings of a model within the model. The rest is what it says."""


@dataclass(frozen=True)
class Setting:
    """How one field of a model is asked for."""

    label: str
    widget: Widget = "text"
    options: Mapping[str, str] = field(default_factory=dict)
    """Codes to choose from, each with its words."""
    count: int = 1
    """How many columns are asked for one by one."""
    hint: str = ""


@dataclass(frozen=True)
class SettingField:
    """A setting in a form: what its input is called, and what stands in it now."""

    name: str
    setting: Setting
    value: Any
    parts: tuple[SettingField, ...] = ()
    """Of a group."""


def declared(model: type[BaseModel]) -> dict[str, Setting]:
    """The settings of a model by the names of its fields, in their order."""
    return {name: one for name, info in model.model_fields.items() for one in info.metadata if isinstance(one, Setting)}


def form_fields(model: type[BaseModel], prefix: str, now: BaseModel | None = None) -> tuple[SettingField, ...]:
    """The inputs of a form, filled in with the settings of ``now``, or as they are by default."""
    return tuple(_form_field(model, name, setting, prefix, now) for name, setting in declared(model).items())


def entered(model: type[BaseModel], prefix: str, form: Mapping[str, Sequence[str]]) -> dict[str, Any]:
    """The values of a model's fields as a form sends them; what was left empty is left to the model's default.

    A list that is empty now was emptied: it is told as such.
    """
    values: dict[str, Any] = {}
    for name, setting in declared(model).items():
        key = f"{prefix}.{name}"
        if setting.widget == "group":
            values[name] = entered(_inner(model, name), key, form)
            continue
        value = _read(setting, form.get(key, ()))
        if value is not None:
            values[name] = value
    return values


def filled(model: type[BaseModel], prefix: str, form: Mapping[str, Sequence[str]], name: str) -> bool:
    """Whether something was entered for that setting."""
    return bool(_read(declared(model)[name], form.get(f"{prefix}.{name}", ())))


def _form_field(
    model: type[BaseModel], name: str, setting: Setting, prefix: str, now: BaseModel | None
) -> SettingField:
    key = f"{prefix}.{name}"
    value = getattr(now, name) if now else model.model_fields[name].get_default(call_default_factory=True)
    if setting.widget == "group":
        inner = _inner(model, name)
        return SettingField(key, setting, None, form_fields(inner, key, value if isinstance(value, inner) else None))
    return SettingField(key, setting, _shown(setting, value))


def _inner(model: type[BaseModel], name: str) -> type[BaseModel]:
    inner = model.model_fields[name].annotation
    if not (isinstance(inner, type) and issubclass(inner, BaseModel)):
        raise TypeError(f"{model.__name__}.{name} is a group of settings, but holds no model")
    return inner


def _shown(setting: Setting, value: Any) -> Any:
    """The value as it stands in an input: text, or a list of what is chosen."""
    if isinstance(value, tuple | list):
        if setting.widget == "pairs":
            return "\n".join(f"{one.value} = {' | '.join(one.wordings)}" for one in value)
        joined = {"lines": "\n", "listed": ", "}.get(setting.widget)
        return list(value) if joined is None else joined.join(value)
    if isinstance(value, bool):
        return value
    if isinstance(value, float):
        return f"{value:g}"
    return "" if value is None or value is PydanticUndefined else str(value)


def _read(setting: Setting, sent: Sequence[str]) -> Any:
    """What was sent for a setting; None where nothing was entered and the default holds."""
    match setting.widget:
        case "lines":
            return tuple(line.strip() for one in sent for line in one.splitlines() if line.strip())
        case "listed":
            return tuple(piece.strip() for one in sent for piece in one.split(",") if piece.strip())
        case "pairs":
            return tuple(_pair(line) for one in sent for line in one.splitlines() if line.strip(" ="))
        case "choices" | "fields" | "columns" | "landmarks":
            return tuple(one for one in sent if one)
        case "tick":
            return bool(sent)
        case _:
            text = sent[-1].strip() if sent else ""
            return text or None


def _pair(line: str) -> dict[str, Any]:
    value, _, words = line.partition("=")
    wordings = tuple(word.strip() for word in words.split("|") if word.strip())
    return {"value": value.strip(), "wordings": wordings or (value.strip(),)}
