"""Values in rows and columns: line items, statement rows. Found by headers, alignment or a drawn grid."""

from zestpail.core.tables.found import Cell, ExtractedTable, Row
from zestpail.core.tables.table import Column, Grid, RowsBegin, Table

__all__ = ["ExtractedTable", "Cell", "Column", "Grid", "Row", "RowsBegin", "Table"]
