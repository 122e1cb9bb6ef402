"""The demo's stand-ins, each a process of its own, and what a person should know of them."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from zestpail.runtime.processes import Child
from zestpail.runtime.supervisor import usable_port
from zestpail.settings import Settings

HOST = "127.0.0.1"
PORTS = {"scanner": 8630, "smtp": 8635, "mailbox": 8636, "ledger": 8637, "repository": 8638, "board": 8639}
LEDGER_KEY, BOARD_KEY, USER, PASSWORD = "quillon-ledger", "quillon-board", "harbour", "quillon-files"
"""Of systems on this machine alone, that hold what is made up."""


@dataclass(frozen=True)
class Props:
    """What stand-ins begin with."""

    in_scanner: Path
    books: Path
    """What the ledger knows."""


def with_standins(settings: Settings, props: Props) -> tuple[Settings, list[Child]]:
    """The settings with the stand-ins beside them."""
    ports = {name: usable_port(HOST, port) for name, port in PORTS.items()}
    at = {name: f"http://{HOST}:{port}" for name, port in ports.items()}
    allowed = f"{at['ledger']}/api {at['repository']}/files {at['board']}/api"
    served = settings.model_copy(update={
        "scanner": at["scanner"],
        "mail_server": f"{HOST}:{ports['smtp']}",
        "delivery_addresses": f"{settings.delivery_addresses} {allowed}".strip(),
        "standins": _told(at),
    })  # fmt: skip
    return served, [
        _child("scanner", ports, "--load", str(props.in_scanner)),
        _child("mailbox", ports, "--smtp-port", str(ports["smtp"]), "--folder", str(settings.data / "mailbox")),
        _child("ledger", ports, "--folder", str(settings.data / "ledger"), "--key", LEDGER_KEY,
               "--books", str(props.books)),
        _child("repository", ports, "--folder", str(settings.data / "repository"), "--user", USER,
               "--password", PASSWORD),
        _child("board", ports, "--folder", str(settings.data / "board"), "--key", BOARD_KEY),
    ]  # fmt: skip


def _child(name: str, ports: dict[str, int], *arguments: str) -> Child:
    return Child(name, f"zestpail.standins.{name}", ["--port", str(ports[name]), *arguments])


def _told(at: dict[str, str]) -> tuple[str, ...]:
    return (
        f"The scanner, with paper to lay in, is at {at['scanner']}",
        f"E-mail that is sent can be read at {at['mailbox']}",
        f"A ledger takes vouchers at {at['ledger']}/api/vouchers, with the key {LEDGER_KEY}",
        f"A document repository takes files at {at['repository']}/files, from {USER} with the password {PASSWORD}",
        f"A board of cards is at {at['board']}; its cards are at {at['board']}/api/cards, with the key {BOARD_KEY}",
    )
