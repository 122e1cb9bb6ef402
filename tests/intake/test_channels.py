"""Files that arrive by themselves: none is lost, none doubled, each refusal has its reason beside it."""

from __future__ import annotations

import smtplib
from collections.abc import Callable, Iterator
from email.message import EmailMessage
from pathlib import Path

import pytest
from aiosmtpd.controller import Controller

from tests.conftest import DEMO, free_port
from tests.desk.flow import deliver_all, ids, read_all
from zestpail.desk.batches.batch import batch_view
from zestpail.desk.batches.today import today
from zestpail.desk.documents.context import lane_names
from zestpail.intake import Arrived, KeptBefore, NotKept
from zestpail.intake.folder import AGAIN, QUIET, Seen, take
from zestpail.intake.mail import receiver
from zestpail.runtime.intakes import keeper
from zestpail.store import Store
from zestpail.store.tables import ArrivedFile, Document


class Shelf:
    """Keeps what comes, unless it is told otherwise."""

    def __init__(self) -> None:
        self.saved: list[tuple[str, bytes]] = []
        self.problem: Exception | None = None

    def __call__(self, arrived: Arrived) -> None:
        if self.problem:
            raise self.problem
        if (arrived.name, arrived.data) in self.saved:
            raise KeptBefore("It came already.")
        self.saved.append((arrived.name, arrived.data))


@pytest.fixture
def profile(tmp_path: Path) -> Iterator[Callable[[Shelf], None]]:
    """Looks at the folder, each time a little later."""
    seen: Seen = {}
    clock = iter(range(1000))

    def look(starter_rows: Shelf) -> None:
        take(tmp_path, "fuel", starter_rows, seen, next(clock) * (QUIET + 0.1))

    yield look


def test_a_file_is_taken_when_it_is_complete(tmp_path: Path, profile: Callable[[Shelf], None]) -> None:
    starter_rows, slow = Shelf(), tmp_path / "slow.pdf"
    for size in range(1, 6):
        slow.write_bytes(b"x" * size)
        profile(starter_rows)
        assert starter_rows.saved == [], "it still grows"
    (tmp_path / "half.pdf.part").write_bytes(b"x")
    profile(starter_rows)
    assert starter_rows.saved == [("slow.pdf", b"xxxxx")]
    assert (tmp_path / "done" / "slow.pdf").read_bytes() == b"xxxxx"
    slow.write_bytes(b"another")
    profile(starter_rows)
    profile(starter_rows)
    assert (tmp_path / "done" / "slow (2).pdf").read_bytes() == b"another", "a name in use is not written over"
    assert sorted(path.name for path in tmp_path.iterdir()) == ["done", "half.pdf.part"]


def test_what_is_not_kept_stays_or_is_refused_with_its_reason(tmp_path: Path, profile: Callable[[Shelf], None]) -> None:
    starter_rows = Shelf()
    for at in range(200):
        (tmp_path / f"{at:03d}.pdf").write_bytes(str(at).encode())
    profile(starter_rows)
    starter_rows.problem = OSError(28, "No space left on device")
    profile(starter_rows)
    assert starter_rows.saved == [] and len(list(tmp_path.glob("*.pdf"))) == 200, "nothing is moved that is not safe"
    starter_rows.problem = None
    for _ in range(int(AGAIN / QUIET) + 1):
        assert starter_rows.saved == [], "a while later"
        profile(starter_rows)
    assert len(starter_rows.saved) == len({name for name, _ in starter_rows.saved}) == 200
    assert len(list((tmp_path / "done").iterdir())) == 200
    (tmp_path / "big.pdf").write_bytes(b"x")
    starter_rows.problem = NotKept("It is too large.")
    profile(starter_rows)
    profile(starter_rows)
    assert (tmp_path / "refused" / "big.pdf.reason.txt").read_text() == "It is too large.\n"
    starter_rows.problem = None
    (tmp_path / "000.pdf").write_bytes(b"0")
    profile(starter_rows)
    profile(starter_rows)
    assert (tmp_path / "refused" / "000.pdf").exists(), "the same again is noticed, and not lost"


def test_a_step_that_broke_off_between_keeping_and_moving_doubles_nothing(store: Store, tmp_path: Path) -> None:
    keep, data = keeper(store), (DEMO / "moewenbek-01.pdf").read_bytes()
    keep(Arrived("supplier-invoices", "a.pdf", data, "watched folder"))
    with pytest.raises(KeptBefore, match=r"It came already, as a\.pdf in batch 1"):
        keep(Arrived("supplier-invoices", "a.pdf", data, "watched folder"))
    assert ids(store, ArrivedFile) == [1]
    with pytest.raises(NotKept, match="no such lane"):
        keep(Arrived("nowhere", "a.pdf", data, "watched folder"))


@pytest.fixture
def post(store: Store) -> Iterator[Controller]:
    running = receiver("127.0.0.1", free_port(), lambda key: key in lane_names(store), keeper(store))
    running.start()
    yield running
    running.stop()


def test_an_e_mail_becomes_documents_with_its_sender_and_subject(
    store: Store, post: Controller, tmp_path: Path
) -> None:
    message = EmailMessage()
    message["From"], message["Subject"] = "accounts@moewenbek.example", "Zwei Rechnungen"
    message["Message-ID"] = "<1@moewenbek.example>"
    message["Date"] = "Mon, 02 Mar 2026 09:00:00 +0000"
    message.set_content("Guten Tag,\nanbei zwei Rechnungen.\n")
    for name in ("moewenbek-01.pdf", "norrhavn-01.pdf"):
        message.add_attachment((DEMO / name).read_bytes(), maintype="application", subtype="pdf", filename=name)
    message.set_boundary("=-=-=-=")  # else it is another one each time
    with smtplib.SMTP(post.hostname, post.port) as sender:
        with pytest.raises(smtplib.SMTPRecipientsRefused, match="no lane of that address"):
            sender.send_message(message, to_addrs="nobody@harbour.example")
        for _ in range(2):
            sender.send_message(message, to_addrs="supplier-invoices@harbour.example")
    read_all(store)  # opens the e-mail, whose files have steps of their own
    read_all(store)
    assert len(ids(store, Document)) == 3, "two attachments and the text, once"
    view = batch_view(store, 1)
    assert [file.name for file in view.files] == [
        "Zwei Rechnungen.eml", "moewenbek-01.pdf", "norrhavn-01.pdf", "text of the e-mail.txt",
    ]  # fmt: skip
    assert view.files[0].unpacked
    assert today(store).batches[0].person == "e-mail"
    with store.transaction() as session:
        given = session.get_one(Document, 1).origin.given
    assert (given["mail_sender"], given["mail_subject"]) == ("accounts@moewenbek.example", "Zwei Rechnungen")
    assert deliver_all(store, tmp_path)[:2] == [True, True]
