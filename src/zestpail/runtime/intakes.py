"""The intake process: follows the watched folders and receives e-mail, and hands what comes to the desk."""

from __future__ import annotations

import signal
import threading

import structlog
from aiosmtpd.controller import Controller

from zestpail.desk.documents.context import lane_names
from zestpail.desk.documents.messages import NotDone, Unreachable
from zestpail.desk.intake import arrivals
from zestpail.intake import Arrived, Keep, KeptBefore, NotKept
from zestpail.intake.folder import follow
from zestpail.intake.imap import NoMailbox, look, mailbox_at
from zestpail.intake.mail import receiver
from zestpail.settings import Settings
from zestpail.store import Store

log = structlog.get_logger()


def run(settings: Settings, store: Store) -> None:
    """Until told to stop."""
    last_message: list[int] = []
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda n, _: last_message.append(n))
    post, stop = _receiving(settings, store), threading.Event()
    if settings.mailbox:
        threading.Thread(target=_looking, args=(settings, store, stop), daemon=True).start()
    try:
        follow(
            settings.incoming,
            lambda: _lanes_now(store),
            keeper(store),
            lambda: bool(last_message),
            store.limits.max_bytes,
        )
    finally:
        stop.set()
        if post:
            post.stop()


def _lanes_now(store: Store) -> list[str]:
    """The lanes' keys; none while the database does not answer, so that everything stays where it is."""
    try:
        return list(lane_names(store))
    except Unreachable:
        return []


def keeper(store: Store) -> Keep:
    """What keeps the files that a channel hands over, each once."""

    def keep(arrived: Arrived) -> None:
        try:
            arrivals.may_arrive(arrived.name, len(arrived.data), store.limits)
            _, before = arrivals.arrive_once(
                store, arrived.lane, arrived.name, arrived.data, arrived.channel, arrived.identity
            )
        except NotDone as problem:
            raise NotKept(str(problem)) from problem
        if before:
            raise KeptBefore(before)

    return keep


def _looking(settings: Settings, store: Store, stop: threading.Event) -> None:
    """Look into the mailbox from time to time; what is wrong with it is told once, until it changes."""
    last_message = ""
    while not stop.is_set():
        try:
            look(mailbox_at(settings.mailbox), lambda key: key in lane_names(store), keeper(store))
            message = ""
        except NoMailbox as problem:
            message = str(problem)
        except Exception as problem:  # whatever it is, the next look may go well
            message = f"looking into it broke off: {problem!r}"
        if message and message != last_message:
            log.warning("no e-mail is taken from the mailbox", problem=message)
        last_message = message
        stop.wait(settings.mailbox_every)


def _receiving(settings: Settings, store: Store) -> Controller | None:
    if not settings.smtp_port:
        return None
    post = receiver(settings.host, settings.smtp_port, lambda key: key in lane_names(store), keeper(store))
    try:
        post.start()
    except OSError as problem:
        log.error("e-mail cannot be received", port=settings.smtp_port, problem=str(problem))
        return None
    return post
