"""Values in rows and columns: line items, statement rows. Found by headers, alignment or a drawn grid."""

from zestpail.core.tables.found import Cell, ExtractedTable, Row
from zestpail.core.tables.table import Column, Grid, RowsBegin, Table

__all__ = ["Cell", "Column", "ExtractedTable", "Grid", "Row", "RowsBegin", "Table"]
