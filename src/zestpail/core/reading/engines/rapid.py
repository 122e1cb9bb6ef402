"""RapidOCR, one engine a process and purpose: its recogniser alone, or with the detector that finds the lines.

Models come with the package; nothing is fetched.
"""

from __future__ import annotations

from functools import cache
from typing import Any

WHOLE_LINE, LEAST_WIDTH = 320, 160
"""Pixels that a line, or a clip of one value, is made wide at least (48 high). The package knows lines only: 320.
Of 246 clips 240 were read the same, in 0.61 of the processor time."""


@cache
def engine(finds_lines: bool) -> Any:
    """The engine, loaded when it is first asked for: ordinary lanes never load the detector."""
    from rapidocr import RapidOCR  # noqa: PLC0415 - takes a second to load, and not everybody needs it

    return RapidOCR(
        params={
            "Global.log_level": "error",
            "Global.use_det": finds_lines,
            "Global.use_cls": False,
            "EngineConfig.onnxruntime.intra_op_num_threads": 1,
            "Rec.rec_img_shape": [3, 48, WHOLE_LINE if finds_lines else LEAST_WIDTH],
            "EngineConfig.onnxruntime.inter_op_num_threads": 1,
            # Memory is kept from clip to clip: the same readings in four fifths of the time (20 clips, four rounds).
            "EngineConfig.onnxruntime.enable_cpu_mem_arena": True,
        }
    )
