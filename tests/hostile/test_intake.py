"""What is sent to us on purpose: it is told in a sentence, costs little, and never takes another's place."""

from __future__ import annotations

import csv
import io
import itertools
import json
import resource
import smtplib
import socket
import time
import zipfile
from collections.abc import Iterator
from dataclasses import replace
from email.message import EmailMessage
from pathlib import Path
from types import SimpleNamespace

import numpy as np
import pytest
from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlmodel import col, select

from tests.conftest import DEMO, free_port, token_for
from tests.desk.flow import LANE
from zestpail.api import create_api
from zestpail.core.extraction import files
from zestpail.core.problems import Unreadable
from zestpail.core.reading.geometry import scaling
from zestpail.core.reading.limits import Limits
from zestpail.core.reading.page import PageReading
from zestpail.core.reading.read import ReadPage
from zestpail.core.reading.unpacking import MOST_FILES, unpacked_files
from zestpail.core.writing.spreadsheets import Column, put_in_csv
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake import unpacking
from zestpail.desk.intake.arrivals import arrive
from zestpail.desk.lanes.separator_sheets import print_sheets
from zestpail.desk.pipeline import reading
from zestpail.desk.types.drafts import read_import
from zestpail.intake.arrived import Arrived
from zestpail.intake.folder import QUIET, Seen, take
from zestpail.intake.mail import MOST_AT_ONCE, MOST_RECIPIENTS, receiver
from zestpail.runtime.intakes import keeper
from zestpail.store import Store
from zestpail.store.tables import ArrivedFile


def html_mail(html: str) -> bytes:
    message = EmailMessage()
    message["From"], message["Date"] = "a@there.example", "Mon, 02 Mar 2026 09:00:00 +0000"
    message.set_content(html, subtype="html")
    return message.as_bytes()


@pytest.mark.parametrize("piece", ["<", "<script", "<!--", "<div>", "<a href='", "&#x"])
def test_a_megabyte_of_html_costs_seconds(piece: str) -> None:
    began = time.process_time()
    package = unpacked_files(html_mail("<p>Bill 7</p>" + piece * (1_000_000 // len(piece))))
    assert package and "Bill 7" in package.files[-1].data.decode().splitlines()
    assert time.process_time() - began < 20, "it took minutes, and held the interpreter"


@settings(max_examples=60)
@given(st.text(alphabet="<>/!-='\"&;# abpdivscripttdbr\0\n", max_size=300))
def test_whatever_html_says_it_is_lines_of_text(html: str) -> None:
    package = unpacked_files(html_mail(f"<p>first</p>{html}"))
    assert package and "first" in package.files[-1].data.decode()


@pytest.mark.parametrize("heading", ["=cmd|' /c calc'!A1", "@SUM(1)", "+1+1", "-x"])
def test_no_heading_is_a_formula(heading: str) -> None:
    columns = (Column("Supplier"), Column(heading))
    first = put_in_csv(b"", columns, "D1", [("a", "b")])
    both = put_in_csv(first, columns, "D2", [("c", "d")])
    rows = list(csv.reader(io.StringIO(both.decode())))
    assert rows == [["Document", "Supplier", f"'{heading}"], ["D1", "a", "b"], ["D2", "c", "d"]]


def test_an_id_that_was_used_before_hides_nothing(store: Store, ines: SignedIn) -> None:
    keep, said = keeper(store), list[str]()

    def posted(text: str, way: str = "") -> None:
        head = f"{way}From: a@there.example\r\nMessage-ID: <7@there>\r\nDate: Mon, 02 Mar 2026 09:00:00 +0000\r\n"
        with smtplib.SMTP("127.0.0.1", port) as sender:
            sender.sendmail("a@there.example", [f"{LANE}@here"], f"{head}\r\n{text}\r\n")

    port = free_port()
    post = receiver("127.0.0.1", port, lambda _: True, keep)
    post.start()
    try:
        for text, way in (("one", ""), ("one", "Received: by another way\r\n"), ("two", "")):
            posted(text, way)
            said.append(text)
    finally:
        post.stop()
    with store.transaction() as session:
        blobs = [store.blobs.get(one.blob) for one in session.exec(select(ArrivedFile))]
    assert [blob.split()[-1] for blob in blobs] == [b"one", b"two"], "the same once, another text under its id too"


def test_keys_are_each_programs_own_and_stand_for_one_content(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    first, second = (token_for(store, name, ines) for name in ("post room", "flow"))
    with TestClient(create_api(Desk(store, tmp_path))) as client:

        def send(token: str, name: str) -> tuple[int, str]:
            head = {"authorization": f"Bearer {token}", "idempotency-key": "N-1"}
            answer = client.post(
                f"/lanes/{LANE}/files", headers=head, files={"file": ("a.pdf", (DEMO / name).read_bytes())}
            )
            return answer.status_code, answer.text

        assert [send(first, "bight-02.pdf")[0] for _ in range(2)] == [201, 201]
        status, said = send(first, "bight-04.pdf")
        assert (status, "Another file came under this key" in said) == (409, True)
        assert send(second, "bight-04.pdf")[0] == 201
    with store.transaction() as session:
        assert len(list(session.exec(select(ArrivedFile)))) == 2


@pytest.fixture
def mail_port() -> Iterator[int]:
    port = free_port()

    def keep(_: Arrived) -> None:
        pass

    post = receiver("127.0.0.1", port, lambda _: True, keep)
    post.start()
    yield port
    post.stop()


def test_the_mail_port_takes_so_many_at_once_and_so_many_recipients(mail_port: int) -> None:
    idle = [socket.create_connection(("127.0.0.1", mail_port), timeout=10) for _ in range(MOST_AT_ONCE)]
    assert all(one.recv(3) == b"220" for one in idle)
    with socket.create_connection(("127.0.0.1", mail_port), timeout=10) as one_more:
        assert one_more.recv(100).startswith(b"421 Too many")
    for one in idle:
        one.close()
    with smtplib.SMTP("127.0.0.1", mail_port) as sender:
        sender.ehlo()
        sender.mail("a@there.example")
        codes = [sender.rcpt(f"lane-{at}@here")[0] for at in range(MOST_RECIPIENTS + 3)]
    assert codes == [250] * MOST_RECIPIENTS + [452] * 3


def test_a_package_has_so_many_pages_in_all(store: Store, ines: SignedIn) -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as package:
        for at in range(300):
            package.writestr(f"{at:03}.txt", "a line\n" * 5_990)
        package.writestr("bill.pdf", (DEMO / "brevanne-01.pdf").read_bytes())
    data = out.getvalue()
    assert len(data) < 200_000
    arrive(store, LANE, "many.zip", data, ines.id, None)
    began = time.process_time()
    few = replace(store, limits=Limits(max_pages=250))  # making the pages that fit takes a while
    reading.open_file(few, 1)
    assert time.process_time() - began < 120, "it would have been read for a day and a half"
    with store.transaction() as session:
        files = [one for one in session.exec(select(ArrivedFile)) if one.of_id]
    taken = [one.name for one in files if not one.problem]
    assert taken == ["000.txt", "bill.pdf"], "what fits is taken, wherever it lies"
    assert {one.problem for one in files if one.problem} == {
        "All that came together has more than 250 pages; send this one by itself."
    }


def test_a_mail_has_so_many_parts(store: Store) -> None:
    message = EmailMessage()
    message["From"], message["Date"] = "a@there.example", "Mon, 02 Mar 2026 09:00:00 +0000"
    message.set_content("Many.\n")
    for at in range(MOST_FILES + 30):
        message.add_attachment(b"x", maintype="application", subtype="pdf", filename=f"{at}.pdf")
    package = unpacked_files(message.as_bytes())
    assert package and len(package.files) == MOST_FILES + 1 and package.left_out == [
        f"all after the first {MOST_FILES} attachments"
    ]  # fmt: skip


def test_a_package_takes_so_long_at_most(store: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch) -> None:
    out, hours = io.BytesIO(), itertools.count(0, 40)
    with zipfile.ZipFile(out, "w") as package:
        for at in range(4):
            package.writestr(f"{at}.txt", f"line {at}")
    arrive(store, LANE, "slow.zip", out.getvalue(), ines.id, None)
    monkeypatch.setattr(unpacking, "time", SimpleNamespace(monotonic=lambda: next(hours)))
    reading.open_file(store, 1)
    with store.transaction() as session:
        problems = [one.problem for one in session.exec(select(ArrivedFile).order_by(col(ArrivedFile.id))) if one.of_id]
    assert problems == [None, *["Opening what came together took 60 s; send this one by itself."] * 3]


def test_what_is_too_large_in_a_watched_folder_is_not_read(tmp_path: Path) -> None:
    folder, seen, kept = tmp_path / LANE, Seen(), list[str]()
    folder.mkdir()
    with (folder / "film.pdf").open("wb") as large:
        large.truncate(3_000_000_000)
    (folder / "bill.pdf").write_bytes(b"%PDF-1.7")
    for at in (0.0, QUIET + 1):
        take(folder, LANE, lambda arrived: kept.append(arrived.name), seen, at)
    assert kept == ["bill.pdf"]
    told = (folder / "refused" / "film.pdf.reason.txt").read_text()
    assert told == "It has 3000 MB; at most 200 MB are taken.\n"
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss < 2_500_000, "kilobytes of this process"


def test_a_hundred_million_sheets_are_refused_before_they_are_made(store: Store) -> None:
    began = time.process_time()
    with pytest.raises(NotDone, match="That makes 100000001 sheets; at most 200 are printed at once"):
        print_sheets(store, LANE, "vessel: Maren Tide", ["any"], 10**8, "A4")
    assert time.process_time() - began < 1


def test_a_type_of_many_fields_that_go_by_each_other_is_soon_read() -> None:
    way = {"how": "arithmetic", "operation": "plus"}
    last = {"key": "f3000", "name": "F", "kind": {"kind": "amount"}, "finders": []}
    chain = [
        {**last, "key": f"f{at}",
         "finders": [{"finder": "computed", "way": {**way, "one": f"f{at + 1}", "other": f"f{at + 1}"}}]}
        for at in range(3000)
    ]  # fmt: skip
    began = time.process_time()
    read = read_import(json.dumps({"key": "chain", "name": "Chain", "fields": [*chain, last]}).encode())
    assert [field.key for field in read.in_order()][:2] == ["f3000", "f2999"]
    assert time.process_time() - began < 10, "it took more than a minute"


def test_the_pages_of_a_long_file_are_packed_while_others_are_read() -> None:
    picture = np.full((2200, 1600), 255, np.uint8)
    picture[100:900, 200:1400:9] = 0
    blank = PageReading(width=576, height=792, words=(), source="ocr", engine="", dpi=200, to_pixels=scaling(1))
    page = ReadPage(blank, picture)
    assert files._slim(page, at_hand=True).pixels is picture
    slim = files._slim(page, at_hand=False)
    assert slim.pixels.nbytes * 20 < picture.nbytes
    assert np.array_equal(slim.whole().pixels, picture)


def test_a_zip_whose_packing_is_damaged_is_told() -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as package:
        package.writestr("0.txt", "a line\n" * 9)
    data = bytearray(out.getvalue())
    data[35] ^= 0xFF  # the first byte of what is packed
    with pytest.raises(Unreadable, match="The zip is damaged or was cut short"):
        unpacked_files(bytes(data))
