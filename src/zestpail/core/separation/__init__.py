"""From a pile to documents: where one ends and the next begins, what is left out, and why."""

from zestpail.core.separation.pile import LeftOut, Pile, PiledDocument, separated
from zestpail.core.separation.rules import (
    AnyRule,
    AtBarcode,
    AtBlankPage,
    AtPrintedSheet,
    AtWords,
    EachFile,
    EveryPages,
    Separation,
)
from zestpail.core.separation.sheet_codes import SheetCode, code_text, codes_on

__all__ = [
    "AnyRule",
    "AtBarcode",
    "AtBlankPage",
    "AtPrintedSheet",
    "AtWords",
    "EachFile",
    "EveryPages",
    "LeftOut",
    "Pile",
    "PiledDocument",
    "Separation",
    "SheetCode",
    "code_text",
    "codes_on",
    "separated",
]
