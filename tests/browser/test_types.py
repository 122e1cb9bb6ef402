"""A document type made from nothing on the bench: samples, fields, landmarks, proof, revisions, a file."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Server
from tests.browser.person import AtTheBrowser

pytestmark = pytest.mark.browser

NOTES = Path(__file__).parents[2] / "demo" / "files" / "fuel-delivery-notes"
SAMPLES = tuple(
    f"fuel-note-0{at}.{form}" for at, form in ((1, "tif"), (2, "pdf"), (3, "jpg"), (4, "jpg"), (5, "tif"), (6, "pdf"))
)


@pytest.fixture
def ines(browser: webdriver.Chrome, shared_server: Server) -> AtTheBrowser:
    return AtTheBrowser(browser, shared_server.address)


def mark(ines: AtTheBrowser, key: str) -> str:
    return str(ines.one(f"#card-{key} .line .mark").get_attribute("aria-label"))


def message(ines: AtTheBrowser) -> str:
    return ines.text(".proof .said p")


def cells(ines: AtTheBrowser) -> list[str]:
    return [cell.text for cell in ines.driver.find_elements("css selector", ".samples [data-act=sample]")]


def on_sample(ines: AtTheBrowser, name: str) -> None:
    """Bring that sample on the bench by its snippet in the strip."""
    ines.driver.execute_script("document.body.dataset.left = 'yes'")
    ines.press(f'.samples [title="{name}"]')
    ines.until(lambda: not ines.driver.find_elements("css selector", "body[data-left]"), "another page")
    ines.until(lambda: name in ines.text(".strip"), f"{name} on the bench")
    ines.until(lambda: ines.driver.find_elements("css selector", ".sheet[data-words]"), "its words")


def test_1_a_type_is_begun_and_its_samples_are_read(ines: AtTheBrowser) -> None:
    ines.open("/sign-in")
    if ines.driver.find_elements("css selector", "#login"):
        ines.sign_in("ines")
    ines.complaints()  # what the tests before provoked is none of ours
    ines.open("/types")
    assert ines.axe() == []
    ines.type_at("#name", "Fuel delivery note", Keys.ENTER)
    ines.until(lambda: "/types/fuel-delivery-note" in ines.driver.current_url)
    ines.says(".no-sample", "Drop a few below")
    ines.type_at(".samples input[type=file]", "\n".join([*(str(NOTES / name) for name in SAMPLES), __file__]))
    ines.until(lambda: "of 6:" in ines.text(".strip"), "six samples read", 900)
    ines.until(
        lambda: "neither a PDF nor a picture" in ines.text(".cell.refused"), "the seventh is refused with its reason"
    )
    assert ines.axe() == []
    assert ines.complaints() == []


def test_2_a_click_makes_a_field_and_the_strip_shows_it_on_all_samples(ines: AtTheBrowser) -> None:
    ines.open("/types/fuel-delivery-note")
    ines.until(lambda: ines.driver.find_elements("css selector", ".sheet[data-words]"), "the words of the page")
    ines.keys("f")
    ines.click(ines.middle("FD-59119"))
    ines.says("#card-ticket_no .value", "FD-59119")
    ines.says("#card-ticket_no .rule", "Look right of “Ticket no”")
    assert mark(ines, "ticket_no") == "right"
    found = cells(ines)
    assert len(found) == 6
    assert sum("FD-" in text for text in found) == 5, "the other form has another label"


def test_3_what_is_wrong_is_pointed_at_and_mended_by_an_offer(ines: AtTheBrowser) -> None:
    on_sample(ines, "fuel-note-03.jpg")
    ines.click(ines.middle("FD-81660"))
    ines.until(lambda: mark(ines, "ticket_no") in ("missing", "wrong"), "the label is taken")
    offers = ines.until(lambda: ines.driver.find_elements("css selector", ".offers button"), "offers")
    assert "Docket" in offers[0].text
    assert "fixes 1, breaks 0" in offers[0].text
    assert ines.axe() == []
    ines.keys("1")
    ines.until(lambda: mark(ines, "ticket_no") == "right", "the rule is mended")
    assert "1 fixed, 0 broken" in message(ines)
    ines.says("#card-ticket_no .rule", "Docket")
    ines.ctrl("z")
    ines.until(lambda: mark(ines, "ticket_no") == "missing", "undone")
    ines.keys("1")
    ines.until(lambda: mark(ines, "ticket_no") == "right", "and mended again")


def test_4_landmarks_a_zone_and_a_bounded_search(ines: AtTheBrowser) -> None:
    on_sample(ines, "fuel-note-01.tif")
    ines.keys("l")
    ines.click(ines.middle("Received"))
    ines.says("#card-L1", "“Received”")
    ines.keys("l")
    left, _, _, bottom = ines.word("Pier")
    ines.click((left + 60, bottom + 9))
    ines.until(lambda: ines.driver.find_elements("css selector", "#card-L2"), "the ruled line under the head")
    ines.says("#card-L2", "a ruled line across")
    ines.keys("z")
    tank = ines.word("TANK")
    ines.drag((tank[0] - 8, tank[1] - 12), (tank[2] + 22, tank[3] + 12))
    ines.until(lambda: "held to L1 and L2" in ines.text(".card.active .rule"), "a zone held to both")
    key = ines.active()
    ines.says(f"#card-{key} .value", "TANK")
    assert sum("TANK" in text for text in cells(ines)) >= 5
    ines.press(".card.active [data-setting=within]")
    ines.press("#settings select[name=above] option:nth-child(3)")
    ines.press("#settings select[name=under] option:nth-child(3)")
    ines.press("#settings .button")
    ines.until(lambda: "Nothing is both under and above L2" in ines.text("#toast"), "a contradiction is told")


def test_4b_a_landmark_is_answered_for_until_its_description_fits(ines: AtTheBrowser) -> None:
    on_sample(ines, "fuel-note-01.tif")
    ines.keys("l")
    ines.click(ines.middle("Ticket"))
    ines.until(lambda: "“Ticket”" in ines.text("#card-L3"), "the label as a landmark")
    on_sample(ines, "fuel-note-03.jpg")
    ines.says("#card-L3", "not on this sample")
    ines.press("#card-L3 [data-act=elsewhere]")
    ines.click(ines.middle("Docket"))
    ines.until(lambda: "or “Docket”" in ines.text("#card-L3 .rule"), "the description has loosened")
    ines.says("#card-L3", "as you confirmed")
    ines.says("#toast", "2 of 2 answers come true")
    ines.press("#card-L3 [data-act=dial]")
    ines.until(lambda: "taken" in ines.text("#dial-taken"), "what falls on either side")
    assert ines.axe() == []
    taken = len(ines.driver.find_elements("css selector", "#dial .taken"))
    assert taken == 6
    ines.type_at("#dial [name=alike]", Keys.HOME)
    ines.until(lambda: ines.text("#dial-taken").startswith("0.50"), "the dial is turned to forgiving")
    assert len(ines.driver.find_elements("css selector", "#dial .taken")) >= taken
    ines.press("#dial [data-act=close]")
    ines.ctrl("z")
    ines.until(lambda: "Docket" not in ines.text("#card-L3 .rule"), "taken back")


def test_4c_a_barcode_is_clicked_a_part_of_it_offered_and_a_field_worked_out(ines: AtTheBrowser) -> None:
    on_sample(ines, "fuel-note-01.tif")
    _, _, right, bottom = ines.word("Complaints")
    ines.keys("f")
    ines.click((right + 140, bottom - 38))
    ines.until(lambda: ines.driver.find_elements("css selector", "#card-barcode"), "a field of the barcode")
    ines.says("#card-barcode .value", "FD-59119*AC-6150")
    assert sum("*AC-" in text for text in cells(ines)) == 5, "the old form has none"
    ines.type_at("#truth", Keys.CONTROL, "a")
    ines.type_at("#truth", "AC-6150", Keys.ENTER)
    offers = ines.until(lambda: ines.driver.find_elements("css selector", ".offers button"), "offers")
    assert "take what stands after “*” in any barcode" in offers[0].text
    offers[0].click()
    ines.until(lambda: ines.text("#card-barcode .value") == "AC-6150", "the part")
    ines.press(".add.right [data-dialog=computing]")
    assert ines.axe() == []
    ines.press("#computing .button")
    assert ines.driver.find_elements("css selector", "#computing[open]"), "it needs a name"
    ines.type_at("#computing [name=name]", "Slip")
    ines.press("#computing [name=several][value=barcode]")
    ines.press("#computing .button")
    ines.until(lambda: "two at least" in ines.text("#toast"), "told what is lacking")
    ines.driver.execute_script(
        "document.getElementById('margins').dataset.stamp = 'of before';"
        "document.body.dispatchEvent(new CustomEvent('live-open'));"
        "document.querySelector('.add.right [data-dialog=computing]').click()"
    )  # a click in the moment in which news is asked for, and all is drawn anew, is not lost
    ines.until(lambda: ines.driver.find_elements("css selector", "#computing[open]"), "asked for once")
    ines.type_at("#computing [name=name]", "Slip")
    ines.press("#computing [name=several][value=ticket_no]")
    ines.press("#computing [name=several][value=barcode]")
    ines.type_at("#computing [name=between]", Keys.BACKSPACE, "/")
    ines.press("#computing .button")
    ines.until(lambda: ines.text("#card-slip .value") == "FD-59119/AC-6150", "worked out")
    ines.press("[data-dialog=checks]")
    assert ines.axe() == []
    ines.press("#checks [value='if_then']")
    ines.press("#checks [name='if_then.when.field'] [value=ticket_no]")
    ines.press("#checks [name='if_then.then.field'] [value=barcode]")
    ines.press("#checks form .button")
    ines.until(lambda: "Checks (1)" in ines.text(".strip"), "the check is there")
    ines.press("[data-dialog=checks]")
    ines.says("#checks .sentences span", "If ticket no is there, then barcode is there.")
    ines.press("#checks [data-act=uncheck]")
    ines.until(lambda: "Checks (1)" not in ines.text(".strip"), "and taken out")


def test_5_the_proof_sheet_and_settings_in_words(ines: AtTheBrowser) -> None:
    on_sample(ines, "fuel-note-01.tif")
    ines.keys("f")
    ines.click(ines.middle("18.02.2026"))
    ines.says("#card-date .value", "2026-02-18")
    ines.keys("p")
    ines.until(lambda: "/sheet" in ines.driver.current_url)
    assert ines.axe() == []
    assert "<" not in ines.text("table"), "markup is not shown as text"
    row = ines.one("tbody tr:last-child")
    assert "1 right, 0 wrong" in row.text
    ines.press("tbody tr:last-child button")
    ines.until(lambda: "Confirm all" not in ines.text("tbody tr:last-child"), "the row is confirmed")
    wrong = ines.text("tbody tr:last-child small")
    assert "right, 0 wrong" in wrong
    ines.keys("s")
    ines.until(lambda: "sort=trouble" in ines.driver.current_url)
    ines.press("#to-bench")
    ines.one("#margins")
    ines.press("[data-key=ticket_no] .line")
    ines.settled_down()
    ines.press("#card-ticket_no [data-setting='beside_label.labels']")
    labels = "#settings textarea[name='beside_label.labels']"
    ines.until(lambda: (ines.type_at(labels, "\nCoupon", Keys.TAB), True)[1])
    ines.until(
        lambda: "Coupon" in ines.text("#card-ticket_no .rule"), "the sentence says it while the settings are open"
    )
    assert ines.axe() == []
    ines.settled_down()
    ines.type_at("#settings details:has([name='regex.expression']) summary", Keys.ENTER)
    expression = "#settings input[name='regex.expression']"
    ines.type_at(expression, "(", Keys.TAB)
    ines.until(lambda: "not a valid pattern" in ines.text("#toast"), "told in a sentence")
    assert ines.one(expression).get_attribute("value") == "(", "what was refused stands there to be corrected"
    ines.settled_down()
    ines.type_at(expression, Keys.BACKSPACE, Keys.TAB)
    ines.press("#settings .button")
    assert not ines.all("#settings[open]")
    ines.says("#card-ticket_no .rule", "Coupon")


def test_6_a_sample_is_set_aside_for_testing_and_another_removed(ines: AtTheBrowser) -> None:
    on_sample(ines, "fuel-note-06.pdf")
    ines.press(".sample-acts .setting")
    ines.until(lambda: "testing only" in ines.text(".sample-acts"), "set aside")
    ines.press(".sample-acts summary")
    assert ines.axe() == []
    ines.press(".sample-acts .button")
    ines.until(lambda: "of 5:" in ines.text(".strip"), "five are left")


def test_7_revisions_are_published_compared_and_brought_back(ines: AtTheBrowser, tmp_path: Path) -> None:
    ines.open("/types/fuel-delivery-note/revisions")
    ines.type_at("#note", "first", Keys.ENTER)
    ines.until(lambda: "first" in ines.text("table"), "revision 1")
    ines.open("/types/fuel-delivery-note?field=date")
    ines.press("#card-date [data-setting='beside_label.directions']")
    ines.press("#settings input[name='beside_label.directions'][value=right]")
    ines.press("#settings input[name='beside_label.directions'][value=below]")
    ines.press("#settings .button")
    ines.until(lambda: "broken" in message(ines) and "0 broken" not in message(ines), "an edit that breaks something")
    ines.open("/types/fuel-delivery-note/revisions")
    ines.type_at("#note", "worse", Keys.ENTER)
    ines.until(lambda: "worse" in ines.text("table"), "revision 2")
    ines.press("tr:nth-child(2) input[name=one]")
    ines.press("tr:nth-child(1) input[name=other]")
    ines.press("form[method=get] > p .button")
    ines.until(lambda: "Revision 1 and revision 2" in ines.text("#pair"))
    ines.says("section[aria-labelledby=pair] p", " broken")
    ines.says("section[aria-labelledby=pair] tbody tr:first-child", "right of")
    assert ines.axe() == []
    ines.press("tr:nth-child(2) button")
    ines.one("#margins")
    ines.says(".strip", "after revision 1")
    assert mark(ines, "date") == "right"
    body = ines.driver.execute_async_script(
        "const done = arguments[0]; fetch('/types/fuel-delivery-note/file').then((a) => a.text()).then(done)"
    )
    assert json.loads(body)["key"] == "fuel-delivery-note"
    (tmp_path / "note.json").write_text(body)
    (tmp_path / "bad.json").write_text(body.replace('"fields"', '"feilds"'))
    for name, details in (("bad.json", "at fields"), ("note.json", "")):
        ines.open("/types")
        ines.type_at("#import", str(tmp_path / name))
        ines.press("form[action='/types/import'] .button")
        if details:
            ines.says("main", details)
    ines.until(lambda: "/types/fuel-delivery-note-2" in ines.driver.current_url)
    assert ines.complaints() == [] or all("409" in line for line in ines.complaints())


def test_8_a_lane_says_that_a_newer_revision_is_published(ines: AtTheBrowser, demo: Path) -> None:
    ines.open("/lanes")
    ines.type_at("input[name=name]", "Fuel")
    ines.press("select[name=type] option[value=fuel-delivery-note]")
    ines.press(".control .button")
    ines.says(".sentences-of-lane", "revision 2")
    assert not ines.all(".newer"), "the lane began with the newest"
    ines.open("/")
    ines.type_at("#lane-supplier-invoices input[type=file]", str(demo / "bight-04.pdf"))
    ines.until(lambda: ines.all("#lane-supplier-invoices a[href='/review?lane=supplier-invoices']"), "a doubt", 900)
    ines.type_at("#lane-fuel input[type=file]", str(NOTES / SAMPLES[0]))
    ines.until(lambda: "1 delivered" in ines.text(".batches tbody tr:first-child"), "no doubt there", 900)
    ines.open("/review?lane=fuel")
    ines.says("h1", "Nothing to review in this lane", "although another lane has something")
    ines.one("body[data-live]")
    ines.says("main a[href='/review']", "Review the other lanes: 1 document")
    assert ines.axe() == []
    ines.open("/")
    ines.press("#lane-supplier-invoices a[href='/review?lane=supplier-invoices']")
    ines.until(lambda: ines.text(".strip .quiet").startswith("bight-04.pdf"), "a document of that lane")
    ines.open("/types/fuel-delivery-note/revisions")
    ines.type_at("#note", "as at first", Keys.ENTER)
    ines.until(lambda: "as at first" in ines.text("table"), "revision 3")
    ines.open("/lanes/fuel")
    ines.says(".sentences-of-lane", "Revision 3 of Fuel delivery note is published; this lane uses revision 2.")
    ines.press(".newer [hx-get]")
    ines.says("#newest caption", "On the last 1 document this would change:")
    assert "2026-02-18" in ines.text("#newest tbody tr td:last-child")
    assert ines.axe() == []
    ines.press(".newer .button")
    ines.says(".strip", "1 change not active yet")
    ines.press("form[action$='put-in-force'] button")
    ines.says(".sentences-of-lane", "revision 3")
    assert not ines.all(".newer")
