"""A document's values in the form in which they are delivered as a file or a call."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from zestpail.core.document_type import DocumentType
from zestpail.core.finders import EmbeddedData
from zestpail.core.writing.value_files import DocumentValues, TableValues
from zestpail.core.writing.value_formats import formatted


def document_values(
    reference: str, doc_type: DocumentType, values: Mapping[str, str | None],
    rows: Mapping[str, Sequence[Mapping[str, str | None]]], given: Mapping[str, str],
) -> DocumentValues:  # fmt: skip
    """Each field as its type says that it is written, and the rows of every table."""
    return DocumentValues(
        reference=reference,
        doc_type=doc_type.key,
        revision=doc_type.revision,
        fields=[(field.key, field.name) for field in doc_type.fields],
        values={field.key: formatted(values.get(field.key), field.export_as) for field in doc_type.fields},
        tables=[
            TableValues(table.key, table.name, [(one.key, one.name) for one in table.columns], rows.get(table.key, ()))
            for table in doc_type.tables
        ],
        given=given,
        terms={
            finder.term: values.get(field.key)
            for field in doc_type.fields
            for finder in field.finders
            if isinstance(finder, EmbeddedData) and finder.term
        },
    )
