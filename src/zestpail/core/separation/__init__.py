"""From a pile to documents: where one ends and the next begins, what is left out, and why."""

from zestpail.core.separation.rules import (
    AnyRule,
    AtBarcode,
    AtBlankPage,
    AtPrintedSheet,
    AtRecognised,
    AtWords,
    EachFile,
    EveryPages,
    Separation,
)
from zestpail.core.separation.sheet_codes import SheetCode, code_text, codes_on
from zestpail.core.separation.split import (
    LeftOut,
    SplitDocument,
    SplitResult,
    split_stack,
)

__all__ = [
    "AnyRule",
    "AtBarcode",
    "AtBlankPage",
    "AtPrintedSheet",
    "AtRecognised",
    "AtWords",
    "EachFile",
    "EveryPages",
    "LeftOut",
    "Separation",
    "SheetCode",
    "SplitDocument",
    "SplitResult",
    "code_text",
    "codes_on",
    "split_stack",
]
