"""The likely slip behind two numbers that should be one."""

from __future__ import annotations

from decimal import Decimal


def likely_slip(stated: Decimal, expected: Decimal) -> str:
    """A sentence naming the slip that would explain the difference; empty where none would."""
    message, meant = f"{abs(stated):.2f}", f"{abs(expected):.2f}"
    if abs(stated) == abs(expected):
        return "The sign is the other way round."
    if message.replace(".", "").strip("0") == meant.replace(".", "").strip("0"):
        return "The decimal point looks misplaced."
    if len(message) == len(meant):
        unlike = [at for at, (a, b) in enumerate(zip(message, meant, strict=True)) if a != b]
        if len(unlike) == 1:
            return f"One figure is off: {message[unlike[0]]} for {meant[unlike[0]]}."
        if len(unlike) == 2 and message[unlike[0]] == meant[unlike[1]] and message[unlike[1]] == meant[unlike[0]]:
            return "Two figures look swapped."
    return ""
