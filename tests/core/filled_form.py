"""A small PDF form, filled in: printed labels, two text fields, two boxes to be ticked, a remark laid over the page."""

from __future__ import annotations

import io

import pikepdf
from pikepdf import Array, Dictionary, Name, String

PRINTED = ("Berth application of the Quillon Harbour Board", "Vessel", "Arrival", "Dangerous goods on board", "Remarks")


def form(rotate: int = 0) -> bytes:
    """A page with printed labels, two text fields, two boxes to be ticked, and a remark laid over it."""
    pdf = pikepdf.new()
    font = Dictionary(Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica, Encoding=Name.WinAnsiEncoding)
    fonts = Dictionary(F=pdf.make_indirect(font))
    text = "".join(f"BT /F 11 Tf 50 {750 - 40 * at} Td ({line}) Tj ET\n" for at, line in enumerate(PRINTED))
    page = Dictionary(
        Type=Name.Page, MediaBox=Array([0, 0, 595, 842]), Rotate=rotate, Resources=Dictionary(Font=fonts),
        Contents=pdf.make_stream(text.encode()),
    )  # fmt: skip

    def drawn(width: float, height: float, content: str) -> pikepdf.Stream:
        stream = pdf.make_stream(content.encode())
        stream.Type, stream.Subtype, stream.BBox = Name.XObject, Name.Form, Array([0, 0, width, height])
        stream.Resources = Dictionary(Font=fonts)
        return stream

    def widget(name: str, y: float, label: str = "", **more: pikepdf.Object) -> pikepdf.Object:
        width = 200 if more["FT"] == Name.Tx else 12
        return pdf.make_indirect(Dictionary(
            Type=Name.Annot, Subtype=Name.Widget, T=String(name), TU=String(label),
            Rect=Array([200, y, 200 + width, y + 14]), F=4, **more,
        ))  # fmt: skip

    def filled(name: str, y: float, value: str, label: str = "") -> pikepdf.Object:
        content = f"/Tx BMC BT /F 11 Tf 2 3 Td ({value}) Tj ET EMC"
        return widget(name, y, label, FT=Name.Tx, V=String(value), AP=Dictionary(N=drawn(200, 14, content)))

    def box(name: str, y: float, ticked: bool) -> pikepdf.Object:
        looks = Dictionary(Yes=drawn(12, 14, "0 0 12 14 re S 2 2 m 10 12 l S"), Off=drawn(12, 14, "0 0 12 14 re S"))
        state = Name.Yes if ticked else Name.Off
        return widget(name, y, FT=Name.Btn, V=state, AS=state, AP=Dictionary(N=looks))

    fields = [
        filled("page1.vesselName[0]", 708, "Grey Heron"),
        filled("f2", 668, "3 September 2026", "Day of arrival"),
        box("dangerous", 628, ticked=True),
        box("insured", 588, ticked=False),
    ]
    remark = Dictionary(
        Type=Name.Annot, Subtype=Name.FreeText, Rect=Array([200, 560, 400, 574]), F=4, Contents=String("with tug"),
        AP=Dictionary(N=drawn(200, 14, "BT /F 11 Tf 2 3 Td (with tug) Tj ET")),
    )  # fmt: skip
    page.Annots = Array([*fields, pdf.make_indirect(remark)])
    pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
    pdf.Root.AcroForm = pdf.make_indirect(Dictionary(Fields=Array(fields), DR=Dictionary(Font=fonts)))
    out = io.BytesIO()
    pdf.save(out)
    return out.getvalue()
