"""The one expression language: arithmetic and comparisons over a document's values, with exact decimals.

``net_total + tax_total == grand_total``, ``days(issue_date, due_date) <= 60``, ``sum(lines.line_total) == net_total``.
A small whitelist over Python's own grammar; nothing else of Python can be reached, and every formula is short.
"""

from __future__ import annotations

import ast
import re
from collections.abc import Callable, Mapping, Sequence
from datetime import date
from decimal import Decimal, DivisionByZero, InvalidOperation
from functools import lru_cache

MOST_LETTERS, MOST_PARTS = 300, 90
"""Longer formulas, or of more parts, are refused: parsing grows with both, and no person reads them."""
Worth = Decimal | date | str | bool
Columns = Mapping[str, Sequence[Mapping[str, str | None]]]

_OPERATORS: dict[type[ast.operator], Callable[[Decimal, Decimal], Decimal]] = {
    ast.Add: lambda a, b: a + b,
    ast.Sub: lambda a, b: a - b,
    ast.Mult: lambda a, b: a * b,
    ast.Div: lambda a, b: a / b,
}
_COMPARISONS: dict[type[ast.cmpop], str] = {
    ast.Eq: "==", ast.NotEq: "!=", ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=",
}  # fmt: skip
_FUNCTIONS = ("abs", "round", "min", "max", "sum", "count", "length", "days")
_NAME = re.compile(r"[a-z_][a-z0-9_]*(?:\.[a-z_][a-z0-9_]*)?")


class NotAFormula(ValueError):
    """A text that is no formula; says what is wrong with it."""


class Lacking(Exception):
    """A value that the formula speaks of is not there, or is of no use in it."""


@lru_cache(maxsize=512)
def parsed(text: str) -> ast.expr:
    """The formula's tree. Raises NotAFormula with a sentence."""
    if len(text) > MOST_LETTERS:
        raise NotAFormula(f"A formula has at most {MOST_LETTERS} characters")
    try:
        tree = ast.parse(text.strip(), mode="eval").body
    except (SyntaxError, ValueError, MemoryError, RecursionError) as problem:
        raise NotAFormula(f"“{text}” is no formula") from problem
    if sum(1 for _ in ast.walk(tree)) > MOST_PARTS:
        raise NotAFormula("That is too long for one formula; make two of it")
    _allowed(tree)
    return tree


def names_in(text: str) -> tuple[str, ...]:
    """The fields and columns (``table.column``) that the formula speaks of, each once."""
    found: dict[str, None] = {}
    for node in ast.walk(parsed(text)):
        if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name):
            found[f"{node.value.id}.{node.attr}"] = None
        elif isinstance(node, ast.Name) and node.id not in _FUNCTIONS:
            found[node.id] = None
    tables = {name.partition(".")[0] for name in found if "." in name}
    return tuple(name for name in found if name not in tables)


def in_words(text: str, names: Mapping[str, str]) -> str:
    """The formula with the fields' names instead of their keys."""
    return _NAME.sub(lambda m: names.get(m[0], m[0]), text)


def sides(text: str) -> tuple[ast.expr, ast.expr] | None:
    """What stands left and right of a comparison, if the formula is one."""
    tree = parsed(text)
    return (tree.left, tree.comparators[0]) if isinstance(tree, ast.Compare) and len(tree.ops) == 1 else None


def worked_out(tree: ast.expr, values: Mapping[str, str | None], tables: Columns) -> Worth:
    """What the formula comes to. Raises Lacking where a value is missing or does not fit."""
    try:
        return _value(tree, values, tables)
    except (InvalidOperation, DivisionByZero, TypeError, ArithmeticError) as problem:
        raise Lacking from problem


def _allowed(node: ast.AST) -> None:
    match node:
        case ast.BinOp():
            fine = type(node.op) in _OPERATORS
        case ast.Compare():
            fine = all(type(op) in _COMPARISONS or isinstance(op, ast.In | ast.NotIn) for op in node.ops)
        case ast.Call():
            fine = isinstance(node.func, ast.Name) and node.func.id in _FUNCTIONS and not node.keywords
            if not fine:
                raise NotAFormula(f"A formula knows only these functions: {', '.join(_FUNCTIONS)}")
        case ast.Attribute():
            fine = isinstance(node.value, ast.Name)
        case ast.Constant():
            fine = isinstance(node.value, int | float | str) and not isinstance(node.value, bool)
        case ast.UnaryOp():
            fine = isinstance(node.op, ast.USub | ast.Not)
        case _:
            fine = isinstance(node, ast.Name | ast.BoolOp | ast.Tuple | ast.operator | ast.cmpop | ast.unaryop)
            fine = fine or isinstance(node, ast.boolop | ast.expr_context)
    if not fine:
        raise NotAFormula("A formula is made of fields, figures, + - * /, comparisons, and, or, not")
    for child in ast.iter_child_nodes(node):
        _allowed(child)


def _value(node: ast.expr, values: Mapping[str, str | None], tables: Columns) -> Worth:  # noqa: PLR0911 - one a part
    match node:
        case ast.Constant():
            return node.value if isinstance(node.value, str) else Decimal(str(node.value))
        case ast.Name():
            return _worth(values.get(node.id))
        case ast.UnaryOp(op=ast.Not()):
            return not _value(node.operand, values, tables)
        case ast.UnaryOp():
            return -_number(_value(node.operand, values, tables))
        case ast.BinOp():
            left, right = (_number(_value(side, values, tables)) for side in (node.left, node.right))
            return _OPERATORS[type(node.op)](left, right)
        case ast.BoolOp():
            parts = (bool(_value(part, values, tables)) for part in node.values)
            return all(parts) if isinstance(node.op, ast.And) else any(parts)
        case ast.Compare():
            return _compared(node, values, tables)
        case ast.Call(func=ast.Name(id=name)):
            return _called(name, node.args, values, tables)
    raise Lacking


def _compared(node: ast.Compare, values: Mapping[str, str | None], tables: Columns) -> bool:
    left = _value(node.left, values, tables)
    for op, other in zip(node.ops, node.comparators, strict=True):
        if isinstance(op, ast.In | ast.NotIn):
            listed = other.elts if isinstance(other, ast.Tuple) else [other]
            held = (left in [_value(one, values, tables) for one in listed]) is isinstance(op, ast.In)
        else:
            right = _value(other, values, tables)
            if type(left) is not type(right):
                left, right = str(left), str(right)
            order = (left > right) - (left < right)  # type: ignore[operator]
            held = {"==": order == 0, "!=": order != 0, "<": order < 0, "<=": order <= 0, ">": order > 0,
                    ">=": order >= 0}[_COMPARISONS[type(op)]]  # fmt: skip
            left = right
        if not held:
            return False
    return True


def _called(name: str, args: Sequence[ast.expr], values: Mapping[str, str | None], tables: Columns) -> Worth:
    if name in ("sum", "count") and len(args) == 1 and isinstance(args[0], ast.Attribute):
        return _of_column(name, args[0], tables)
    given = [_value(arg, values, tables) for arg in args]
    if name == "length" and len(given) == 1:
        return Decimal(len(str(given[0])))
    if name == "days" and len(given) == 2 and isinstance(given[0], date) and isinstance(given[1], date):
        return Decimal((given[1] - given[0]).days)
    figures = [_number(one) for one in given]
    if name == "round" and 1 <= len(figures) <= 2:
        return round(figures[0], int(figures[1]) if len(figures) > 1 else 0) + Decimal(0)
    ways: dict[str, Callable[[Sequence[Decimal]], Decimal]] = {
        "min": min, "max": max, "sum": lambda several: sum(several, Decimal(0)), "abs": lambda one: abs(one[0]),
    }  # fmt: skip
    if name not in ways or not figures:
        raise Lacking
    return ways[name](figures)


def _of_column(name: str, column: ast.Attribute, tables: Columns) -> Decimal:
    """The sum of a column's figures, or how many of its cells hold something."""
    table = column.value.id if isinstance(column.value, ast.Name) else ""
    if table not in tables:
        raise Lacking
    cells = [cell for row in tables[table] if (cell := row.get(column.attr))]
    return Decimal(len(cells)) if name == "count" else sum((_number(_worth(cell)) for cell in cells), Decimal(0))


def _worth(value: str | None) -> Worth:
    if not value:
        raise Lacking
    try:
        return date.fromisoformat(value) if re.fullmatch(r"\d{4}-\d\d-\d\d", value) else Decimal(value)
    except (InvalidOperation, ValueError):
        return value


def _number(value: Worth) -> Decimal:
    if isinstance(value, Decimal) and value.is_finite():
        return value
    raise Lacking
