"""The steps that workers take, and what happens to those that break off.

Every step may be done twice: the desk looks at the state first and does nothing if the work is done.
"""

from __future__ import annotations

import procrastinate
import structlog
from procrastinate import JobContext, RetryStrategy

from zestpail.delivery import SmtpPost
from zestpail.desk.archive import entering, exporting, keeping
from zestpail.desk.delivery import deliveries
from zestpail.desk.documents import gone_files, page_readings
from zestpail.desk.documents.secrets import web_of
from zestpail.desk.documents.standing import broke_too_often, forget_broken_steps
from zestpail.desk.intake import calls, scanning
from zestpail.desk.lanes import trials
from zestpail.desk.lanes.sorting import samples as sorting_samples
from zestpail.desk.pipeline import direct, extract, reading, sort, split
from zestpail.desk.programs import hooks
from zestpail.desk.reference import asking, taking
from zestpail.desk.types import from_review, samples
from zestpail.store.jobs import QUEUE
from zestpail.work.budget import within
from zestpail.work.here import here

log = structlog.get_logger()
steps = procrastinate.Blueprint()
ATTEMPTS = 20
"""Of a step whose process ends again and again by no fault of its own."""
BROKE = "took too long or broke off several times"
_again = RetryStrategy(max_attempts=ATTEMPTS, wait=1, linear_wait=2)


def too_often(context: JobContext) -> bool:
    """Whether the step broke off so often that it is given up, and a person told, rather than tried again."""
    if context.job.attempts >= ATTEMPTS - 1:
        return True
    return context.job.attempts > 0 and broke_too_often(here()[1], context.job.id or 0)


@steps.task(name="open_file", queue=QUEUE, retry=_again, pass_context=True)
@within(1)
def open_file(context: JobContext, file_id: int) -> None:
    """Count the pages of an arrived file."""
    if too_often(context):
        reading.refuse_file(here()[1], file_id, f"Opening this file {BROKE}; it may be damaged.")
    else:
        reading.open_file(here()[1], file_id)


@steps.task(name="scan_sheets", queue=QUEUE, retry=_again, pass_context=True)
@within(10)
def scan_sheets(context: JobContext, scan_id: int) -> None:
    """Take sheet after sheet from the scanner."""
    settings, store = here()
    if too_often(context):
        scanning.stop_scan(store, scan_id, f"Scanning {BROKE}; the sheets scanned so far are kept.")
    else:
        scanning.scan_on(store, scanning.scanner_at(settings.scanner), scan_id)


@steps.task(name="read_page", queue=QUEUE, retry=_again, pass_context=True)
@within(1)
def read_page(context: JobContext, page_id: int) -> None:
    """Read one page, or go on without it."""
    if too_often(context):
        reading.fail_page(here()[1], page_id, f"Reading it {BROKE}.")
    else:
        reading.read_page(here()[1], page_id)


@steps.task(name="split", queue=QUEUE, retry=_again, pass_context=True)
@within(10)
def split_file(context: JobContext, file_id: int) -> None:
    """Cut a pile into documents."""
    if too_often(context):
        split.keep_whole(here()[1], file_id, f"Cutting the pile {BROKE}, so it is one document")
    else:
        split.separate_file(here()[1], file_id)


@steps.task(name="sort", queue=QUEUE, retry=_again, pass_context=True)
@within(3)
def sort_document(context: JobContext, document_id: int) -> None:
    """Tell what a document is whose pages were changed by hand."""
    if too_often(context):
        sort.ask_person(here()[1], document_id)
    else:
        sort.sort_document(here()[1], document_id)


@steps.task(name="try_lane", queue=QUEUE, retry=_again, pass_context=True)
@within(30)
def try_lane(context: JobContext, trial_id: int) -> None:
    """See what a lane's letter would do with a file."""
    if too_often(context):
        trials.end_trial(here()[1], trial_id, f"The trial {BROKE}; the file may be damaged.")
    else:
        trials.run_trial(here()[1], trial_id)


@steps.task(name="extract", queue=QUEUE, retry=_again, pass_context=True)
@within(5)
def extract_values(context: JobContext, document_id: int) -> None:
    """Find and check a document's values, or leave them all to a person."""
    if too_often(context):
        extract.leave_to_person(here()[1], document_id, f"Finding its values {BROKE}.")
    else:
        extract.extract_document(here()[1], document_id)


@steps.task(name="extract_directly", queue=QUEUE, retry=_again, pass_context=True)
@within(3)
def extract_directly(context: JobContext, call_id: int) -> None:
    """Read one file for a program, and tell it the values."""
    if too_often(context):
        direct.end(here()[1], call_id, problem=f"Reading this file {BROKE}; it may be damaged.")
    else:
        direct.run(here()[1], call_id)


@steps.task(name="open_sample", queue=QUEUE, retry=_again, pass_context=True)
@within(1)
def open_sample(context: JobContext, sample_id: int) -> None:
    """Count the pages of a sample."""
    if too_often(context):
        samples.refuse_sample(here()[1], sample_id, f"Opening this file {BROKE}; it may be damaged.")
    else:
        samples.open_sample(here()[1], sample_id)


@steps.task(name="sample_from_review", queue=QUEUE, retry=_again, pass_context=True)
@within(2)
def sample_from_review(context: JobContext, document_id: int) -> None:
    """Make a sample of a reviewed document where its lane says so."""
    if not too_often(context):
        from_review.take_by_rule(here()[1], document_id)


@steps.task(name="read_sample_page", queue=QUEUE, retry=_again, pass_context=True)
@within(1)
def read_sample_page(context: JobContext, page_id: int) -> None:
    """Read one page of a sample, or go on without it."""
    if too_often(context):
        problem = {"state": "failed", "problem": f"Reading it {BROKE}."}
        samples.finish_sample_page(here()[1], page_id, problem)
    else:
        samples.read_sample_page(here()[1], page_id)


@steps.task(name="read_sorting_sample", queue=QUEUE, retry=_again, pass_context=True)
@within(10)
def read_sorting_sample(context: JobContext, sample_id: int) -> None:
    """Read a sample that a lane's types are told apart by."""
    if too_often(context):
        sorting_samples.refuse_sample(here()[1], sample_id, f"Reading it {BROKE}; it may be damaged.")
    else:
        sorting_samples.read_sample(here()[1], sample_id)


@steps.task(name="deliver", queue=QUEUE, retry=_again, pass_context=True)
@within(10)
def deliver(context: JobContext, document_id: int) -> None:
    """Hand a settled document over, or say that it is stuck."""
    settings, store = here()
    if too_often(context):
        deliveries.refuse(store, document_id, f"Delivering it {BROKE}; see the server's log.")
    else:
        post = SmtpPost(settings.mail_server, settings.mail_from)
        web = web_of(store, settings.data, settings.allowed_addresses)
        deliveries.deliver(store, settings.delivered, document_id, post, settings.allowed_folders, web)


@steps.task(name="fetch_called", queue=QUEUE, retry=_again, pass_context=True)
@within(5)
def fetch_called(context: JobContext, call_id: int) -> None:
    """Fetch what another system called for."""
    settings, store = here()
    if too_often(context):
        calls.fail_call(store, call_id, f"Fetching it {BROKE}; see the server's log.")
    else:
        calls.fetch_called(store, web_of(store, settings.data, settings.allowed_addresses), call_id)


@steps.task(name="read_list", queue=QUEUE, retry=_again, pass_context=True)
@within(20)
def read_list(context: JobContext, list_id: int) -> None:
    """Take in a new revision of a reference list."""
    if too_often(context):
        taking.fail_list(here()[1], list_id, f"Reading the list {BROKE}. The revision before holds.")
    else:
        taking.read_list(here()[1], list_id)


@steps.task(name="ask_list", queue=QUEUE, retry=_again, pass_context=True)
@within(5)
def ask_list(context: JobContext, list_id: int) -> None:
    """Ask an address for a reference list."""
    settings, store = here()
    if too_often(context):
        taking.fail_list(store, list_id, f"Asking for the list {BROKE}. The revision before holds.")
    else:
        asking.ask(store, web_of(store, settings.data, settings.allowed_addresses), list_id)


@steps.periodic(cron="* * * * *")
@steps.task(name="ask_lists_due", queue=QUEUE, queueing_lock="ask_lists_due")
def ask_lists_due(timestamp: int) -> None:  # noqa: ARG001 - given by the queue
    """Ask for the reference lists whose time has come."""
    asking.ask_due(here()[1])


@steps.task(name="take_out", queue=QUEUE, retry=_again, pass_context=True)
@within(5)
def take_out(context: JobContext, document_id: int) -> None:
    """Remove at destinations what was written of a document that was taken back; its delivery tries it again."""
    settings, store = here()
    if not too_often(context):
        web = web_of(store, settings.data, settings.allowed_addresses)
        deliveries.take_out(store, settings.delivered, document_id, settings.allowed_folders, web)


@steps.periodic(cron="* * * * * */5")
@steps.task(name="enter_due", queue=QUEUE, queueing_lock="enter_due")
def enter_due(timestamp: int) -> None:  # noqa: ARG001 - given by the queue
    """Enter into the archive what was changed."""
    entering.enter_due(here()[1])


@steps.task(name="erase", queue=QUEUE, retry=_again, pass_context=True)
@within(30)
def erase(context: JobContext, erasure_id: int) -> None:
    """Erase documents for good."""
    if too_often(context):
        keeping.leave_rest(here()[1], erasure_id, f"Erasing {BROKE}; see the server's log.")
    else:
        keeping.erase(here()[1], erasure_id)


@steps.task(name="export", queue=QUEUE, retry=_again, pass_context=True)
@within(30)
def export(context: JobContext, export_id: int) -> None:
    """Make the files that somebody takes along."""
    if too_often(context):
        exporting.fail(here()[1], export_id, f"Making it {BROKE}; see the server's log.")
    else:
        exporting.export(here()[1], export_id)


@steps.periodic(cron="* * * * * */5")
@steps.task(name="call_hooks", queue=QUEUE, queueing_lock="call_hooks")
def call_hooks(timestamp: int) -> None:  # noqa: ARG001 - given by the queue
    """Call the addresses that want to be told of news."""
    settings, store = here()
    hooks.plan_calls(store)
    hooks.make_calls(store, web_of(store, settings.data, settings.allowed_addresses))


@steps.periodic(cron="* * * * *")
@steps.task(name="keep_lacking_texts", queue=QUEUE, queueing_lock="keep_lacking_texts")
def keep_lacking_texts(timestamp: int) -> None:  # noqa: ARG001 - given by the queue
    """Make pages that were read by an older version searchable, a few at a time; forget what is over."""
    page_readings.keep_lacking_texts(here()[1], most=100)
    forget_broken_steps(here()[1])
    direct.forget_old(here()[1])
    exporting.forget_old(here()[1])
    gone_files.delete_gone(here()[1])


@steps.periodic(cron="* * * * * */10")  # the sixth field is for seconds
@steps.task(name="take_up_stalled", queue=QUEUE, queueing_lock="take_up_stalled", pass_context=True)
async def take_up_stalled(context: JobContext, timestamp: int) -> None:  # noqa: ARG001 - given by the queue
    """Give the steps of workers that died to others; the queue does not do it by itself."""
    settings, _ = here()
    jobs = context.app.job_manager
    for job in await jobs.get_stalled_jobs(seconds_since_heartbeat=settings.stalled_after):
        log.warning("taken up again", step=job.task_name, job=job.id, attempt=job.attempts)
        await jobs.retry_job(job)
