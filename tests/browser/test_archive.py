"""Found again in the archive, and called from code that was copied from the page, through the real interface."""

from __future__ import annotations

import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Server
from tests.browser.person import AtTheBrowser, at_work
from tests.browser.test_business_systems import INVOICES

pytestmark = pytest.mark.browser


@pytest.fixture
def ines(browser: webdriver.Chrome, shared_server: Server) -> AtTheBrowser:
    return at_work(browser, shared_server.address, "/")


def arrives(ines: AtTheBrowser, server: Server, paper: str, name: str, state: str) -> None:
    """An invoice of the demo comes under another name, unless it is there, and is read, or stands as is said."""
    ines.open(f"/archive?words={name}&state={state}")
    if not ines.all(".found li"):
        shutil.copy(INVOICES / paper, server.incoming / "supplier-invoices" / name)
    ines.until(lambda: (ines.open(f"/archive?words={name}&state={state}"), ines.all(".found li"))[1], f"{name} is read")


def test_1_found_again_by_a_word_half_remembered_or_misread(ines: AtTheBrowser, shared_server: Server) -> None:
    shutil.copy(INVOICES / "tremarec-03.pdf", shared_server.incoming / "supplier-invoices" / "tremarec-03.pdf")
    ines.until(lambda: (ines.open("/archive?words=tremarec-03"), ines.all(".found li"))[1], "it came and was read")
    ines.open("/types")
    ines.keys("/")
    ines.keys("tremarek", Keys.ENTER)
    ines.says(".archive-found", "looked for too: tremarec")
    ines.says(".found", "Voilerie Trémarec SAS")
    strip = ines.one(".found img")
    ines.until(lambda: ines.driver.execute_script("return arguments[0].naturalWidth", strip) == 640, "its strip")
    assert ines.axe() == []
    Select(ines.one("[name=type]")).select_by_visible_text("Supplier invoice")
    ines.type_at("[name=since]", "01012031")
    ines.press(".archive-narrow .button")
    ines.says(".archive-found", "Nothing found")
    ines.press(".archive-narrow a[href='/archive']")
    ines.says(".archive-found", "Every document that ever came")
    assert ines.axe() == []


def test_2_code_that_is_copied_runs(ines: AtTheBrowser, tmp_path: Path) -> None:
    ines.open("/types/supplier-invoice/programs")
    assert ines.axe() == []
    ines.type_at("[name=name]", "Paying run", Keys.ENTER)
    secret = ines.text("#secret")
    shutil.copy(INVOICES / "brevanne-01.pdf", tmp_path / "paper.pdf")
    curl, python, javascript = copied(ines)[:3]
    assert secret in curl and secret in python
    if shutil.which("curl"):  # no package that is needed brings it along
        told = subprocess.run(["sh", "-c", curl], cwd=tmp_path, capture_output=True, text=True, check=True).stdout
        assert '"value":"12125.82"' in told
    (tmp_path / "code.py").write_text(python)
    done = subprocess.run([sys.executable, "code.py"], cwd=tmp_path, capture_output=True, text=True, check=True)
    assert done.stdout.strip(), "the first field's value"
    assert (javascript_says(javascript, tmp_path) or done.stdout) == done.stdout
    ines.open("/types/supplier-invoice/programs")
    assert not ines.all("#secret"), "it is shown once"
    ines.open("/lanes/supplier-invoices/programs")
    assert ines.axe() == []
    ines.type_at("[name=name]", "Sending run", Keys.ENTER)
    assert ines.text("#secret")
    _, code, javascript, *_ = copied(ines)
    (tmp_path / "lane.py").write_text(code)
    done = subprocess.run([sys.executable, "lane.py"], cwd=tmp_path, capture_output=True, text=True, check=False)
    assert re.match("(settled|delivered) .*Br", done.stdout), done.stderr
    assert re.match("(settled|delivered) .*Br|$", javascript_says(javascript, tmp_path))


def copied(ines: AtTheBrowser) -> list[str]:
    """The code that stands there to be copied."""
    return [ines.driver.execute_script("return arguments[0].textContent", one) for one in ines.all("pre")]


def javascript_says(code: str, folder: Path) -> str:
    """What the code prints; nothing where there is no Node, which no package that is needed brings along."""
    if not shutil.which("node"):
        return ""
    (folder / "code.mjs").write_text(code)
    return subprocess.run(["node", "code.mjs"], cwd=folder, capture_output=True, text=True, check=True).stdout


def test_3_the_reading_room(ines: AtTheBrowser, shared_server: Server, tmp_path: Path) -> None:
    arrives(ines, shared_server, "moewenbek-01.pdf", "kept-long.pdf", "delivered")
    ines.open("/archive?words=Schiffsbedarf")
    ines.press(".found a[href*='/documents/']")
    ines.says(".strip", "kept-long.pdf · delivered")
    hit, many = ines.text("#hit-at"), len(ines.all(".sheet rect.hit"))
    assert many > 1 and hit == f"1 of {many}" and len(ines.all(".thumbs img")) == 1
    ines.keys("n")
    ines.says("#hit-at", f"2 of {many}")
    ines.keys("p", "p")
    ines.says("#hit-at", f"{many} of {many}")
    ines.press("#card-grand_total button")
    ines.one(".sheet .values .active[data-key='grand_total']")
    assert ines.driver.execute_script(
        "const c = document.querySelector('#card-grand_total').dataset, v = document.querySelector('.values .active');"
        "return Math.abs(Number(v.getBBox().x) - Number(c.box.split(',')[0])) < 4"
    ), "the mark stands at the value"
    for panel, says in (("deliveries", "sent"), ("history", "delivered to all"), ("versions", "As it arrived")):
        ines.press(f"[data-panel=panel-{panel}]")
        ines.says(f"#panel-{panel}", says)
    assert ines.axe() == []
    ines.press("[data-panel=panel-do]")
    assert ines.axe() == []
    ines.type_at("[name=to]", "auditor@example.org")
    ines.press("form[action$='/send'] .button")
    ines.says("#panel-do .message", "Sent to auditor@example.org")
    ines.press("[data-panel=panel-history]")
    ines.says("#panel-history", "sent on by e-mail")
    ines.press("[data-panel=panel-do]")
    ines.press("[data-act=work]")
    ines.says(".large-page[open]", "This page was delivered; notes can still be added here.")
    ines.keys(Keys.ESCAPE)
    ines.until(lambda: not ines.all(".large-page[open]"), "it is closed")


def test_4_several_beside_each_other_a_view_and_what_is_taken_along(ines: AtTheBrowser, shared_server: Server) -> None:
    for paper, name in (("brevanne-01.pdf", "beside.pdf"), ("moewenbek-01.pdf", "kept-long.pdf")):
        arrives(ines, shared_server, paper, name, "")
    found = "/archive?words=quillon&type=supplier-invoice"
    ines.until(lambda: (ines.open(found), len(ines.all(".found [type=checkbox]")) > 1)[1], "both are read")
    for box in ines.all(".found [type=checkbox]")[:2]:
        box.click()
    ines.press("#ticked .button")
    ines.says(".compare", "2 documents beside each other")
    ines.says(".compare .values", "differ")
    assert len(ines.all(".beside section")) == 2 and ines.axe() == []
    ines.open("/archive?words=quillon&type=supplier-invoice&columns=grand_total")
    assert ines.axe() == []
    ines.press(".archive-narrow > details summary")
    ines.type_at("form[action='/archive/views'] [name=name]", "Invoices to us", Keys.ENTER)
    ines.one("nav[aria-label='Saved views'] a[aria-current]")
    ines.says(".found-table", "12,125.82")
    ines.press("form[action='/archive/exports'] .button")
    ines.one("#exports a[href$='/file']")
    assert ines.axe() == []
    ines.open("/archive/folders?lane=supplier-invoices")
    ines.says(".folder", "1 document")
    assert ines.axe() == []


def test_5_a_document_is_held_back_and_let_go(ines: AtTheBrowser, shared_server: Server) -> None:
    ines.open("/lanes/supplier-invoices")
    ines.press("[data-dialog=keeping]")
    ines.type_at("dialog[open] [name=kept_days]", "3650", Keys.ENTER)
    ines.says(".sentences-of-lane", "Keep documents here for 3650 days after they arrived.")
    ines.press("form[action$='/discard'] button")
    arrives(ines, shared_server, "moewenbek-01.pdf", "kept-long.pdf", "delivered")
    ines.open("/archive?words=kept-long&state=delivered")
    ines.press(".found a[href*='/documents/']")
    ines.press("[data-panel=panel-do]")
    ines.type_at("[name=why]", "The auditor wants it", Keys.ENTER)
    ines.says(".below .tabs", "held back from erasure: The auditor wants it")
    number = ines.driver.current_url.rpartition("/")[2]
    ines.open(f"/archive/erase?document={number}")
    ines.says("main", "None of them can be erased now")
    ines.open(f"/archive/documents/{number}")
    ines.press("[data-panel=panel-do]")
    ines.press("form[action$='/lift-hold'] button")
    ines.open(f"/archive/erase?document={number}")
    assert ines.axe() == []
    ines.type_at("[name=why]", "The sender asked for it", Keys.ENTER)
    ines.says("#records", "1 of 1")
    ines.says("#records", "The sender asked for it")
    assert ines.axe() == []
    ines.open(f"/archive/documents/{number}")
    ines.says("main", "There is no such document")
    ines.open("/archive?words=kept-long")
    ines.says(".archive-found", "Nothing found")


def test_6_programs_are_told_where_to_call_and_read_what_they_can_ask(ines: AtTheBrowser) -> None:
    ines.open("/access")
    ines.press("a[href='/access/calls']")
    assert ines.axe() == []
    ines.type_at("[name=address]", "http://192.0.2.1/flow", Keys.ENTER)
    ines.says("main", "not among the addresses that the administrator allows")
    ines.open("/api/v1/reference")
    ines.says("main", "What is new since")
    assert ines.axe() == []
