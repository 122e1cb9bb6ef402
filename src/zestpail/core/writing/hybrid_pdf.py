"""A hybrid invoice: a PDF/A-3 (ISO 19005-3) that carries the invoice's data as a file in itself."""

from __future__ import annotations

import io
from datetime import date

import pikepdf
from pikepdf import AttachedFileSpec, Name

FILE = "factur-x.xml"
"""What the standard calls the file (Factur-X 1.0, which is ZUGFeRD 2.3, too)."""
_FX = "urn:factur-x:pdfa:CrossIndustryDocument:invoice:1p0#"
_PROPERTIES = (
    ("DocumentFileName", "The name of the embedded XML file", FILE),
    ("DocumentType", "The type of the hybrid document", "INVOICE"),
    ("Version", "The version of the standard of the embedded XML", "1.0"),
    ("ConformanceLevel", "The profile of the embedded XML", "EN 16931"),
)


def hybrid_pdf(pdf_a: bytes, xml: bytes, of: date) -> bytes:
    """The PDF with the data of the invoice of that day in it, as PDF/A-3b.

    Raises pikepdf.pdfa.PdfaError if it cannot conform.
    """
    from pikepdf import pdfa  # noqa: PLC0415 - a second to load, and most processes write no PDF

    conforming, out = io.BytesIO(), io.BytesIO()
    with pikepdf.open(io.BytesIO(pdf_a)) as pdf:
        spec = _attached(pdf, xml, FILE, f"D:{of:%Y%m%d}000000Z")
        spec.obj.AFRelationship = Name.Alternative
        pdf.attachments[FILE] = spec
        pdf.Root.AF = pikepdf.Array([spec.obj])
        pdfa.save(pdf, conforming, pdfa.Flavour("3b"))
    # What checks it knows the standard's own words only, and would drop those that are described here (ISO 19005-3,
    # 6.6.2.3.1 allows them with their description): so they come last, and nothing else is touched.
    with pikepdf.open(conforming) as pdf:
        before = bytes(pdf.Root.Metadata.read_bytes())
        described = before.replace(b"</rdf:RDF>", _described().encode() + b"</rdf:RDF>")
        pdf.Root.Metadata = pdf.make_stream(described, Type=Name.Metadata, Subtype=Name.XML)
        pdf.save(out, **pdfa.resolve_save_kwargs(pdfa.Flavour("3b")))
    return out.getvalue()


def with_data(pdf: bytes, xml: bytes, name: str = FILE) -> bytes:
    """The PDF as it is, with the data of an invoice in it."""
    out = io.BytesIO()
    with pikepdf.open(io.BytesIO(pdf)) as whole:
        whole.attachments[name] = _attached(whole, xml, name, "")
        whole.save(out, deterministic_id=True)
    return out.getvalue()


def _attached(pdf: pikepdf.Pdf, xml: bytes, name: str, made: str) -> AttachedFileSpec:
    return AttachedFileSpec(
        pdf, xml, filename=name, description="The data of the invoice", mime_type="text/xml", creation_date="",
        mod_date=made,
    )  # fmt: skip


def _described() -> str:
    """What the file is, and what these words mean, as PDF/A wants words described that are not its own."""
    values = "".join(f"<fx:{name}>{value}</fx:{name}>" for name, _, value in _PROPERTIES)
    meanings = "".join(
        '<rdf:li rdf:parseType="Resource">'
        f"<pdfaProperty:name>{name}</pdfaProperty:name><pdfaProperty:valueType>Text</pdfaProperty:valueType>"
        f"<pdfaProperty:category>external</pdfaProperty:category>"
        f"<pdfaProperty:description>{meaning}</pdfaProperty:description></rdf:li>"
        for name, meaning, _ in _PROPERTIES
    )
    return (
        f'<rdf:Description rdf:about="" xmlns:fx="{_FX}">{values}</rdf:Description>'
        '<rdf:Description rdf:about="" xmlns:pdfaExtension="http://www.aiim.org/pdfa/ns/extension/" '
        'xmlns:pdfaSchema="http://www.aiim.org/pdfa/ns/schema#" '
        'xmlns:pdfaProperty="http://www.aiim.org/pdfa/ns/property#"><pdfaExtension:schemas><rdf:Bag>'
        '<rdf:li rdf:parseType="Resource"><pdfaSchema:schema>Factur-X PDFA Extension Schema</pdfaSchema:schema>'
        f"<pdfaSchema:namespaceURI>{_FX}</pdfaSchema:namespaceURI><pdfaSchema:prefix>fx</pdfaSchema:prefix>"
        f"<pdfaSchema:property><rdf:Seq>{meanings}</rdf:Seq></pdfaSchema:property></rdf:li>"
        "</rdf:Bag></pdfaExtension:schemas></rdf:Description>"
    )
