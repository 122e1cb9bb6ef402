"""Piles on the real pages: bundles cut, a letter changed and tried, sheets scanned back, the ribbon mended."""

from __future__ import annotations

import json
import smtplib
from email.message import EmailMessage
from pathlib import Path
from typing import Any

import httpx
import numpy as np
import pypdfium2 as pdfium
import pytest
import zxingcpp
from PIL import Image, ImageSequence
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Server
from tests.browser.person import AtTheBrowser, at_work

pytestmark = pytest.mark.browser

PILE = Path(__file__).parents[2] / "demo" / "files" / "vessel-calls" / "vessel-calls-01.tif"


@pytest.fixture
def ines(browser: webdriver.Chrome, server: Server) -> AtTheBrowser:
    return at_work(browser, server.address, "/lanes")


def pages(ines: AtTheBrowser) -> list[list[str]]:
    """The ribbon as it lies: by stretch, the numbers of its pages."""
    lying: list[list[str]] = ines.driver.execute_script(
        "return [...document.querySelectorAll('.stretch')].map("
        "(stretch) => [...stretch.querySelectorAll('.tile')].map((tile) => tile.dataset.page))"
    )
    return lying


def batch(ines: AtTheBrowser, file: Path) -> str:
    """Drop a file on the lane of vessel calls; returns the address of its batch."""
    ines.open("/")
    before = len(ines.driver.find_elements(By.CSS_SELECTOR, ".batches tbody tr"))
    ines.type_at("#lane-vessel-calls input[type=file]", str(file))
    ines.until(lambda: len(ines.driver.find_elements(By.CSS_SELECTOR, ".batches tbody tr")) > before, "a batch")
    return (ines.one(".batches tbody a").get_attribute("href") or "").removeprefix(ines.address)


def test_1_bundles_are_cut_and_filed_in_one_pass(ines: AtTheBrowser, server: Server) -> None:
    truth = json.loads(PILE.with_name(PILE.name + ".truth.json").read_text())
    httpx.post(f"{server.scanner}/faults", data={"fault": "paper jam", "sheet": 12}, trust_env=False)
    ines.open("/")
    ines.press("#lane-vessel-calls a[href$='/scan']")
    ines.says(".scan-form", "45 sheets lie in the feeder")
    assert ines.axe() == []
    ines.press(".scan-form .button")
    ines.says("#scan", "The paper is jammed at sheet 12. Take it out, lay it on top of the pile again, and go on.")
    assert ines.axe() == []
    ines.press("#scan button[value='go on']")
    ines.says("#scan", "45 sheets, 90 sides")
    at = (ines.one("#scan a[href^='/batches/']").get_attribute("href") or "").removeprefix(ines.address)
    ines.open("/")
    ines.until(lambda: "being read" in ines.text(".batches"), "live progress")
    ines.until(lambda: f"{len(truth['documents'])} delivered" in ines.text(".batches"), "all documents", 900)
    folder = server.delivered / "vessel-calls"
    filed = sorted(str(path.relative_to(folder)) for path in folder.rglob("*.pdf"))
    names = {"crew-list": "Crew list", "pilot-ticket": "Pilot ticket"}
    for document in truth["documents"]:
        given = document["given"]
        place = f"{given['vessel']}/{given['year']}/{given['month']}/"
        assert any(path.startswith(place + names.get(document["type"], "")) for path in filed), place
    assert len(filed) == len(truth["documents"])
    ines.open(at)
    ines.says(".file", "blank × 45")
    trail = ines.text(".trail")
    assert "stack split" in trail
    assert ines.axe() == []
    ines.open(f"{at}/ribbon")
    lying = [page for stretch in pages(ines) for page in stretch]
    assert len(lying) == len(set(lying)) == truth["sides"]
    assert ines.axe() == []


def test_2_a_letter_is_changed_tried_and_put_in_force(ines: AtTheBrowser, tmp_path: Path) -> None:
    ines.open("/lanes/vessel-calls")
    ines.says(".sentences-of-lane", "a document begins at every printed separator sheet")
    ines.press("[data-dialog=separation]")
    ines.press("#separation select[name=begin] option:nth-child(3)")
    ines.until(lambda: ines.one("#separation input[name=pattern]").is_displayed(), "what belongs to barcodes")
    ines.type_at("#separation input[name=pattern]", "(", Keys.ENTER)
    ines.until(lambda: "pattern cannot be understood" in ines.text("main"), "a sentence about a bad pattern")
    ines.open("/lanes/vessel-calls")
    ines.press("[data-dialog=separation]")
    ines.press("#separation select[name=goes_on] option:nth-child(2)")
    ines.press("#separation .button")
    ines.until(lambda: "1 change not active yet" in ines.text(".strip"), "a draft")
    ines.press("[data-dialog=delivery]")
    ines.type_at("#delivery textarea[name=mail_to]", "@grey-heron.example")
    ines.press("#delivery .button")
    ines.until(lambda: "2 changes not active yet" in ines.text(".strip"), "more of the draft")
    ines.type_at("#trial input[type=file]", str(scan(tmp_path / "short.tif", sides(6))))
    ines.until(lambda: "would be delivered as" in ines.text("#trial"), "the trial", 900)
    ines.says("#trial", "1 bundle, 1 document; 5 pages left out")
    ines.says("#trial .renamed", "Maren Tide/2026/03/Crew list.pdf")
    assert ines.axe() == []
    ines.press("form[action$='put-in-force'] button")
    ines.until(lambda: "lane · active" in ines.text(".strip"), "in force")
    assert ines.all("#delivery [data-insert='{Berth}']"), "what sheets give can be named"


def test_3_sheets_are_printed_and_scanned_back(ines: AtTheBrowser, tmp_path: Path) -> None:
    ines.driver.execute_cdp_cmd("Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(tmp_path)})
    ines.open("/lanes/vessel-calls/sheets")
    ines.type_at("textarea[name=values]", "vessel: Grey Heron\nyear: 2026\nmonth: 05\nberth: D4")
    ines.press("input[name=separators][value=pilot-ticket]")
    ines.press("input[name=separators][value=any]")
    ines.type_at("input[name=mail]", "agent@grey-heron.example")
    assert ines.axe() == []
    ines.press(".sheets-form .button")
    printed = tmp_path / "sheets-vessel-calls.pdf"
    ines.until(printed.exists, "the PDF")
    cover, any_sheet, pilot = (
        Image.fromarray(np.array(page.render(scale=200 / 72).to_numpy()[:, :, 0])).convert("1")
        for page in pdfium.PdfDocument(printed)
    )
    first, second, third = (sides(12)[at] for at in (4, 6, 10))
    at = batch(ines, scan(tmp_path / "own sheets.tif", [cover, pilot, first, second, any_sheet, third]))
    ines.until(lambda: "1 stack to check" in ines.text(".batches"), "it waits for a look", 900)
    ines.open(f"{at}/ribbon")
    ines.says(".pile", "6 pages: 2 documents, 3 pages left out")

    def headers() -> list[str]:
        return [header.text for header in ines.driver.find_elements(By.CSS_SELECTOR, ".stretch .head a")]

    ines.until(lambda: headers() == ["Pilot ticket", "Crew list"], "by its sheet, and by the lane")


def test_4_the_ribbon_is_mended_and_goes_on(ines: AtTheBrowser, server: Server) -> None:
    ines.open("/")
    ines.press(".batches tbody tr:first-child a")
    ines.press("a[href$='/ribbon']")
    ines.until(lambda: pages(ines), "the ribbon")
    out, (one, two), sheet, (three,) = pages(ines)
    cover = out[0]
    assert ines.axe() == []

    def lies(*wanted: list[str]) -> None:
        ines.until(lambda: pages(ines) == list(wanted), f"the ribbon {wanted}, not {pages(ines)}")

    ines.press(f"[data-page='{two}'] img")
    ines.keys("c")
    lies(out, [one], [two], sheet, [three])
    ines.press(f"[data-page='{two}'] .gap")
    lies(out, [one, two], sheet, [three])
    ines.drag(inside(ines, three, 0.4), inside(ines, one, 0.1))
    lies(out, [three, one, two], sheet)
    ines.keys(Keys.DELETE)
    lies([*out, three], [one, two], sheet)
    ines.ctrl("z")
    lies(out, [three, one, two], sheet)
    ines.ctrl("z")
    lies(out, [one, two], sheet, [three])
    ines.press(f"[data-page='{cover}'] img")
    ines.keys(Keys.DELETE)
    lies([cover], out[1:], [one, two], sheet, [three])
    ines.ctrl("z")
    lies(out, [one, two], sheet, [three])
    several_at_once(ines, [one, two, three])
    lies(out, [one, two], sheet, [three])
    before = picture(ines, three)
    ines.press(f"[data-page='{three}'] img")
    ines.keys("t")
    ines.until(lambda: picture(ines, three) != before, "turned and read", 900)
    ines.ctrl("z")
    ines.until(lambda: picture(ines, three) == before, "turned back")
    ines.press(".look .button")
    ines.until(lambda: not ines.driver.find_elements(By.CSS_SELECTOR, ".look"), "it has gone on")
    assert [stretch for stretch in pages(ines) if one in stretch] == [[one, two]]
    folder = server.delivered / "vessel-calls" / "Grey Heron" / "2026" / "05"
    ines.until(lambda: {path.name for path in folder.glob("*.pdf")} == {"Pilot ticket.pdf", "Crew list.pdf"}, "filed")

    def sent() -> list[list[str]]:
        mails = httpx.get(f"{server.mailbox}/mails", trust_env=False).json()
        return sorted(mail["attachments"] for mail in mails if mail["to"] == "agent@grey-heron.example")

    ines.until(lambda: sent() == [["Crew list.pdf"], ["Pilot ticket.pdf"]], "and sent, as the sheets asked")


def several_at_once(ines: AtTheBrowser, chosen: list[str]) -> None:
    """Select pages in every way, do one thing to all of them, and undo it in one step."""
    one, two, three = chosen

    def selected() -> list[str]:
        return [str(tile.get_attribute("data-page")) for tile in ines.all(".tile[aria-selected=true]")]

    def all_between() -> bool:
        """Again where the ribbon was drawn anew beneath the pointer, as after what was done before."""
        ines.press(f"[data-page='{one}'] img")
        ines.click(inside(ines, three, 0.5), holding=Keys.SHIFT)
        return len(selected()) == 4

    ines.until(all_between, "all from the one to the other, the sheet between too")
    ines.says("#chosen", "4 pages selected")
    assert ines.axe() == []
    ines.press(f"[data-page='{one}'] img")
    assert selected() == [], "a plain click is for one page"
    ines.click(inside(ines, three, 0.5), holding=Keys.CONTROL)
    assert selected() == [one, three]
    ines.keys(Keys.DELETE)
    ines.until(lambda: [two] in pages(ines) and [three] not in pages(ines), "both are left out")
    ines.ctrl("z")
    ines.until(lambda: [one, two] in pages(ines) and [three] in pages(ines), "and both back in one step")
    ines.keys(Keys.ESCAPE)
    ines.until(lambda: not selected(), "none is selected any more")
    tile = ines.one(f"[data-page='{one}']").rect
    last = ines.one(f"[data-page='{two}']").rect
    ines.drag(
        (last["x"] + last["width"] + 4, last["y"] + last["height"] + 14),
        (tile["x"] + tile["width"] / 2, tile["y"] + tile["height"] / 2),
    )
    ines.until(lambda: selected() == [one, two], "what a drawn box touches")
    ines.keys(Keys.ESCAPE)


def inside(ines: AtTheBrowser, page: str, share: float) -> tuple[float, float]:
    """A place on a page of the ribbon, that share of its width from the left."""
    x, y = ines.driver.execute_script(
        "const edge = document.querySelector(`[data-page='${arguments[0]}'] img`).getBoundingClientRect();"
        "return [edge.left + arguments[1] * edge.width, edge.top + edge.height / 2]", page, share)  # fmt: skip
    return x, y


def picture(ines: AtTheBrowser, page: str) -> str:
    return str(ines.driver.execute_script(
        "return document.querySelector(`[data-page='${arguments[0]}'] img`)?.src", page))  # fmt: skip


def sides(count: int) -> list[Image.Image]:
    """The first sides of the demo's pile."""
    with Image.open(PILE) as whole:
        return [side.copy() for side, _ in zip(ImageSequence.Iterator(whole), range(count), strict=False)]


def scan(file: Path, pages_of_it: list[Image.Image]) -> Path:
    """A file of these pages, as a scanner writes it."""
    pages_of_it[0].save(
        file, "TIFF", save_all=True, append_images=pages_of_it[1:], compression="group4", dpi=(200, 200)
    )
    return file


def test_5_a_page_is_cropped_blacked_out_and_noted(ines: AtTheBrowser, tmp_path: Path) -> None:
    at = batch(ines, scan(tmp_path / "crew.tif", [sides(8)[4], sides(8)[6]]))
    ines.until(lambda: "1 stack to check" in ines.text(".batches tbody tr:first-child"), "it waits for a look", 900)
    ines.open(f"{at}/ribbon")
    ((page, _),) = pages(ines)
    ines.complaints()  # what the tests before provoked is none of ours
    ines.type_at(".tile", Keys.ENTER)
    ines.until(lambda: ines.one(".whole-page img").size["height"] > 300, "the page in full size")
    assert ines.axe() == []
    secret = words(ines, page)[4]
    assert secret[0] in [word[0] for word in words(ines, page)]

    def drawn(left: float, top: float, right: float, bottom: float) -> None:
        """A box in points of the page as it is shown."""
        edge = ines.one(".whole-page img").rect
        x, y, width = edge["x"], edge["y"], edge["width"]
        step = width / float(ines.one("#large").get_attribute("data-width") or 1)
        ines.drag((x + left * step, y + top * step), (x + right * step, y + bottom * step))

    def done(what: str, there: bool = True) -> None:
        """What is done to the page, or noted on it, once it is read again."""

        def message() -> bool:
            return (what in ", ".join(one.text for one in ines.all(".done, .notes"))) == there

        ines.until(lambda: ines.all(".whole-page img") and message(), f"{what}: {there}", 900)

    ines.press("[data-tool='black out']")
    drawn(secret[1] - 2, secret[2] - 2, secret[3] + 2, secret[4] + 2)
    done("1 place blacked out")
    left = [word for word in words(ines, page) if abs(word[1] - secret[1]) < 3 and abs(word[2] - secret[2]) < 3]
    assert left == [], "no word stands there any more"
    ines.keys("n")
    ines.keys(Keys.ARROW_UP, Keys.ARROW_UP, Keys.ENTER)
    ines.keys("ask the agent", Keys.ENTER)
    done("ask the agent")
    ines.keys("k")
    ines.keys(Keys.SHIFT, Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.SHIFT, Keys.ENTER)
    done("cropped")
    ines.ctrl("z")
    done("cropped", there=False)
    ines.ctrl("z")
    done("ask the agent", there=False)
    assert "1 place blacked out" in ines.text(".done"), "two were taken back, the black stays"
    ines.keys(Keys.ESCAPE)
    ines.until(lambda: not ines.one(".large-page").is_displayed(), "it is closed")
    ines.says(f"[data-page='{page}']", "blacked out")
    ines.press(f"[data-page='{page}'] img")
    ines.keys("t")
    ines.until(lambda: "being read" not in ines.text(f"[data-page='{page}']"), "turned", 900)
    assert ines.complaints() == []


def words(ines: AtTheBrowser, page: str) -> list[list[Any]]:
    """The words of a page: text and box in points."""
    found: list[list[Any]] = ines.driver.execute_async_script(
        "const done = arguments[1]; fetch(`/pages/${arguments[0]}/words`, {cache: 'reload'})"
        ".then((answer) => answer.json()).then(done)", page)  # fmt: skip
    return found


def test_6_an_e_mail_and_a_watched_folder_bring_documents(ines: AtTheBrowser, server: Server, tmp_path: Path) -> None:
    message = EmailMessage()
    message["From"], message["Subject"] = "master@grey-heron.example", "Papers of the Grey Heron"
    message.set_content("Please find the crew list attached.\n")
    for name, side in (("crew.pdf", sides(8)[4]), ("stores.pdf", sides(12)[10])):
        side.save(tmp_path / name, "PDF", resolution=200)
        message.add_attachment((tmp_path / name).read_bytes(), maintype="application", subtype="pdf", filename=name)
    with smtplib.SMTP("127.0.0.1", server.smtp_port) as sender:
        sender.send_message(message, to_addrs="vessel-calls@harbour.example")
    ines.open("/")
    ines.until(lambda: "e-mail" in ines.text(".batches tbody tr:first-child"), "it came by itself", 900)
    ines.until(lambda: "3 stacks to check" in ines.text(".batches tbody tr:first-child"), "attachments and text", 900)
    ines.press(".batches tbody tr:first-child a")
    ines.says(".file", "unpacked; what was in it follows")
    folder = server.incoming / "vessel-calls"
    ines.until(folder.is_dir, "each lane has a folder")
    whole = scan(tmp_path / "left.tif", sides(2)).read_bytes()
    with (folder / "slow copy.tif").open("wb") as file:
        file.write(whole[: len(whole) // 2])
        file.flush()
        ines.open("/")
        file.write(whole[len(whole) // 2 :])
    ines.until(lambda: "watched folder" in ines.text(".batches"), "it is taken when it is whole", 900)
    ines.until((folder / "done" / "slow copy.tif").exists, "and moved")


def test_7_a_pile_with_stickers_on_a_lane_of_ones_own(ines: AtTheBrowser, server: Server, tmp_path: Path) -> None:
    ines.open("/lanes")
    ines.type_at("input[name=name]", "Sticker pile")
    ines.press("select[name=type] option[value=crew-list]")
    ines.press(".control .button")
    ines.until(lambda: ines.driver.current_url.endswith("/lanes/sticker-pile"), "the letter of a new lane")
    ines.press("[data-dialog=separation]")
    ines.press("#separation select[name=begin] option:nth-child(3)")
    ines.type_at("#separation input[name=begins_with]", "QHB-")
    ines.type_at("#separation input[name=field]", "sticker")
    ines.press("#separation select[name=blank_pages] option:nth-child(2)")
    ines.press("#separation .button")
    ines.until(lambda: "every barcode that begins with QHB-" in ines.text(".sentences-of-lane"), "the rule")
    ines.press("[data-dialog=delivery]")
    ines.type_at("#naming", Keys.CONTROL, "a", Keys.BACKSPACE)
    ines.press("#delivery [data-insert='{Sticker}']")
    ines.press("#delivery .button")
    ines.says(".sentences-of-lane", "File a searchable PDF as {Sticker} in sticker-pile")
    ines.press("form[action$='put-in-force'] button")
    ines.until(lambda: "lane · active" in ines.text(".strip"), "in force")
    names = [f"QHB-{number}" for number in (101, 102, 103, 104, 104, 105)]
    ines.open("/")
    ines.type_at("#lane-sticker-pile input[type=file]", str(scan(tmp_path / "pile.tif", stickered(names))))
    ines.until(lambda: "6 delivered" in ines.text(".batches tbody tr:first-child"), "all documents", 900)
    filed = {path.name for path in (server.delivered / "sticker-pile").glob("*.pdf")}
    assert filed == {f"{name}.pdf" for name in names} | {"QHB-104 (2).pdf"}, "nothing is written over"
    assert ines.axe() == []


def stickered(names: list[str]) -> list[Image.Image]:
    """Documents of two pages and an empty back, each with a sticker somewhere on its first page, and a parcel label."""
    truth = json.loads(PILE.with_name(PILE.name + ".truth.json").read_text())["documents"]
    there, stack = sides(90), []
    for at, name in enumerate(names):
        front = there[truth[at]["first_side"]].copy()
        form = (zxingcpp.BarcodeFormat.QRCode, zxingcpp.BarcodeFormat.Code39)[at % 2]
        for text, place in ((name, (900, 1850)), ("PARCEL 55-7", (150, 1850))):
            code = zxingcpp.create_barcode(text, form if text == name else zxingcpp.BarcodeFormat.Code128)
            drawn = np.array(zxingcpp.write_barcode_to_image(code, scale=5 if at % 2 == 0 and text == name else 2))
            sticker = Image.fromarray(np.ascontiguousarray(np.rot90(drawn, at if text == name else 0)))
            front.paste(sticker.convert("1"), place)
        stack += [front, there[6], there[truth[at]["first_side"] + 1]]
    return stack
