"""One worker process: takes one step at a time, so that as many workers as cores keep them all busy."""

from __future__ import annotations

import os

import cv2
import numpy as np
import procrastinate

from zestpail.core.kinds import Date, Style
from zestpail.core.reading.engines import second_reader, tesseract
from zestpail.core.reading.geometry import scaling
from zestpail.core.reading.page import PageReading
from zestpail.core.writing.searchable_pdf import PageToWrite, searchable_pdf
from zestpail.settings import Settings
from zestpail.store.jobs import QUEUE
from zestpail.work.budget import limit_process
from zestpail.work.steps import steps

NICE = 10
"""Reading yields to the web process, so that pages stay quick while all cores read."""


def app(settings: Settings) -> procrastinate.App:
    """The queue with its steps."""
    made = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=settings.database_url))
    made.add_tasks_from(steps, namespace="")
    return made


def _warm() -> None:
    """Load what is slow to load now: models, month names, the rules of PDF/A. The first page shall not wait for it."""
    tesseract.warm()
    second_reader.warm()
    Date().parse("1 May 2026", Style())
    blank = PageReading(width=72, height=72, words=(), source="ocr", engine="", dpi=72, to_pixels=scaling(1))
    searchable_pdf([PageToWrite(np.full((72, 72), 255, np.uint8), blank)], "warm")


def run(settings: Settings) -> None:
    """Work until told to stop."""
    os.nice(NICE)
    cv2.setNumThreads(1)
    _warm()
    limit_process(settings.step_memory, settings.step_most_memory, settings.step_output)
    with app(settings).open() as queue:
        queue.run_worker(
            queues=[QUEUE],
            concurrency=1,
            fetch_job_polling_interval=2,
            shutdown_graceful_timeout=10,
            update_heartbeat_interval=min(5.0, settings.stalled_after / 3),
            stalled_worker_timeout=settings.stalled_after,
            delete_jobs="successful",
        )
