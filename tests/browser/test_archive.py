"""Found again in the archive, and called from code that was copied from the page, through the real interface."""

from __future__ import annotations

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
    curl, python = (ines.driver.execute_script("return arguments[0].textContent", one) for one in ines.all("pre")[:2])
    assert secret in curl and secret in python
    if shutil.which("curl"):  # no package that is needed brings it along
        told = subprocess.run(["sh", "-c", curl], cwd=tmp_path, capture_output=True, text=True, check=True).stdout
        assert '"value":"12125.82"' in told
    (tmp_path / "code.py").write_text(python)
    done = subprocess.run([sys.executable, "code.py"], cwd=tmp_path, capture_output=True, text=True, check=True)
    assert done.stdout.strip(), "the first field's value"
    ines.open("/types/supplier-invoice/programs")
    assert not ines.all("#secret"), "it is shown once"
