"""A document type is data: its fields with their finders, its tables and its checks."""

from zestpail.core.document_type.file import load_type, starters
from zestpail.core.document_type.model import DocumentType, FieldRule, Tries

__all__ = ["DocumentType", "FieldRule", "Tries", "load_type", "starters"]
