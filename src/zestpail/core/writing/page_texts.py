"""What was read of pages, as others read it: plain text, hOCR 1.2 and ALTO 4 (Library of Congress).

hOCR and ALTO say where each word stands, in pixels of the page's picture; a line is one that was read as a line.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import count
from xml.etree import ElementTree as ET

from zestpail.core.reading.geometry import Box
from zestpail.core.reading.lines import Line, lines_of
from zestpail.core.reading.page import PageReading

ALTO = "http://www.loc.gov/standards/alto/ns-v4#"
XHTML = "http://www.w3.org/1999/xhtml"


def plain_text(pages: Sequence[PageReading]) -> bytes:
    """Line by line in UTF-8, pages apart by a form feed."""
    texts = ["\n".join(" ".join(word.text for word in line.words) for line in lines_of(page, 0)) for page in pages]
    return ("\f\n".join(texts) + "\n").encode("utf-8", "replace")


def hocr(pages: Sequence[PageReading], title: str) -> bytes:
    """XHTML whose classes and titles say what each piece is and where it stands."""
    html = ET.Element("html", xmlns=XHTML)
    head = ET.SubElement(html, "head")
    ET.SubElement(head, "title").text = legal(title)
    ET.SubElement(head, "meta", name="ocr-system", content="Zest Pail")
    ET.SubElement(head, "meta", name="ocr-capabilities", content="ocr_page ocr_line ocrx_word")
    body, number = ET.SubElement(html, "body"), count(1)
    for at, page in enumerate(pages):
        whole = Box(0, 0, page.width, page.height)
        told = f"bbox {_sides(page, whole)}; ppageno {at}; scan_res {round(page.dpi)} {round(page.dpi)}"
        there = ET.SubElement(body, "div", {"class": "ocr_page", "id": f"page_{at + 1}", "title": told})
        for line in lines_of(page, at):
            span = _marked(there, "ocr_line", f"line_{next(number)}", f"bbox {_sides(page, line.box)}")
            for word in line.words:
                sure = f"bbox {_sides(page, word.box)}; x_wconf {round(100 * word.confidence)}"
                _marked(span, "ocrx_word", f"word_{next(number)}", sure).text = legal(word.text)
    return b'<?xml version="1.0" encoding="UTF-8"?>\n<!DOCTYPE html>\n' + bytes(ET.tostring(html, "utf-8"))


def alto(pages: Sequence[PageReading], title: str) -> bytes:
    """One ALTO document of all pages, each with one text block of its lines."""
    root, number = ET.Element("alto", xmlns=ALTO, SCHEMAVERSION="4.4"), count(1)
    description = ET.SubElement(root, "Description")
    ET.SubElement(description, "MeasurementUnit").text = "pixel"
    source = ET.SubElement(description, "sourceImageInformation")
    ET.SubElement(source, "fileName").text = legal(title)
    done = ET.SubElement(description, "Processing", ID="reading")
    software = ET.SubElement(done, "processingSoftware")
    ET.SubElement(software, "softwareName").text = "Zest Pail"
    layout = ET.SubElement(root, "Layout")
    for at, page in enumerate(pages, 1):
        whole = _place(page, Box(0, 0, page.width, page.height))
        size = {"WIDTH": whole["WIDTH"], "HEIGHT": whole["HEIGHT"]}
        there = ET.SubElement(layout, "Page", {"ID": f"page_{at}", "PHYSICAL_IMG_NR": str(at), **size})
        space = ET.SubElement(there, "PrintSpace", whole)
        lines = lines_of(page, at)
        if lines:
            block = ET.SubElement(space, "TextBlock", {"ID": f"block_{at}", **whole})
            for line in lines:
                _alto_line(block, page, line, number)
    return b'<?xml version="1.0" encoding="UTF-8"?>\n' + bytes(ET.tostring(root, "utf-8"))


def legal(text: str) -> str:
    """The text without characters that XML 1.0 does not take (its section 2.2)."""
    return "".join(
        c for c in text if c in "\t\n\r" or " " <= c <= "\ud7ff" or "\ue000" <= c <= "\ufffd" or c >= "\U00010000"
    )


def _alto_line(block: ET.Element, page: PageReading, line: Line, number: Iterator[int]) -> None:
    there = ET.SubElement(block, "TextLine", {"ID": f"line_{next(number)}", **_place(page, line.box)})
    for at, word in enumerate(line.words):
        if at:
            ET.SubElement(there, "SP")
        told = {"ID": f"word_{next(number)}", **_place(page, word.box), "CONTENT": legal(word.text)}
        ET.SubElement(there, "String", {**told, "WC": f"{min(max(word.confidence, 0.0), 1.0):.2f}"})


def _marked(above: ET.Element, kind: str, identity: str, title: str) -> ET.Element:
    return ET.SubElement(above, "span", {"class": kind, "id": identity, "title": title})


def _pixels(page: PageReading, box: Box) -> tuple[int, int, int, int]:
    scale = page.dpi / 72
    return round(box.x0 * scale), round(box.y0 * scale), round(box.x1 * scale), round(box.y1 * scale)


def _sides(page: PageReading, box: Box) -> str:
    return " ".join(map(str, _pixels(page, box)))


def _place(page: PageReading, box: Box) -> dict[str, str]:
    left, top, right, bottom = _pixels(page, box)
    return {"HPOS": str(left), "VPOS": str(top), "WIDTH": str(right - left), "HEIGHT": str(bottom - top)}
