"""The commands of ``./zestpail``."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from zestpail.settings import Settings

if TYPE_CHECKING:
    from collections.abc import Callable

    from zestpail.core.document_type import DocumentType
    from zestpail.runtime.standins import Props
    from zestpail.store import Store

app = typer.Typer(no_args_is_help=True, add_completion=False, pretty_exceptions_enable=False, help=__doc__)
ROOT = Path(__file__).parents[2]

Data = Annotated[Path | None, typer.Option("--data", help="Folder for the database, the blobs and what is delivered.")]
Types = Annotated[Path | None, typer.Option("--data", help="Folder of a server whose own types are meant too.")]
Embedded = Annotated[
    bool, typer.Option("--ignore-embedded", help="Leave the data of electronic invoices aside; read the paper.")
]
Port = Annotated[int | None, typer.Option("--port", help="Port of the web pages; a free one if it is taken.")]


@app.command()
def demo(data: Data = None, port: Port = None) -> None:
    """Serve the demo: the Quillon Harbour Board, with two people and a lane for supplier invoices."""
    try:
        from demo import board, ledger_books
    except ImportError as lacking:
        typer.echo("The demo comes with the source of Zest Pail: run ./zestpail demo there.", err=True)
        raise typer.Exit(1) from lacking
    from zestpail.runtime.standins import Props

    _serve(_settings(data, port), board.set_up, Props(board.PILE, ledger_books.BOOKS))


@app.command()
def serve(data: Data = None, port: Port = None) -> None:
    """Serve Zest Pail: database, web pages and one worker for each core."""
    from zestpail.runtime import welcome

    _serve(_settings(data, port), welcome.prepare)


@app.command()
def work(data: Data = None, child: Annotated[bool, typer.Option("--child", hidden=True)] = False) -> None:
    """Add one more worker to a server that runs on this data folder."""
    from zestpail.desk.documents.desk_context import open_desk
    from zestpail.runtime import service_user, supervisor
    from zestpail.work import worker

    settings = _settings(data, None)
    if child:
        worker.run(settings)
        return
    os.umask(service_user.OTHERS_NOTHING)
    with _sentences(), supervisor.database(settings) as ready:
        user, problem = service_user.service_user(settings.run_as, settings.data)
        typer.echo(problem or "One more worker takes steps; Ctrl-C stops it.")
        supervisor.one_worker(ready, open_desk(ready).store, user)


@app.command()
def migrate(data: Data = None) -> None:
    """Bring the database to the present state."""
    from zestpail.runtime import supervisor

    with _sentences(), supervisor.database(_settings(data, None)):
        typer.echo("The database is up to date.")


@app.command()
def person(
    login: str,
    name: Annotated[str, typer.Option(help="How the person is called.")],
    password: Annotated[str, typer.Option(prompt=True, hide_input=True, confirmation_prompt=True)],
    role: Annotated[
        list[str] | None, typer.Option(help="operator, author or administrator; may be given several times.")
    ] = None,
    data: Data = None,
) -> None:
    """Add a person who can sign in, or give one a new name and password. The first may do everything."""
    from zestpail.desk.documents.desk_context import open_desk
    from zestpail.desk.documents.signed_in import EVERY_ROLE
    from zestpail.desk.people.people import add_person, anybody
    from zestpail.runtime import supervisor
    from zestpail.store.states import Role

    with _sentences(), supervisor.database(_settings(data, None)) as ready:
        store = open_desk(ready).store
        try:
            roles = [Role(one) for one in role or ()] or (None if anybody(store) else EVERY_ROLE)
        except ValueError as unknown:
            raise typer.BadParameter(f"The roles are: {', '.join(Role)}.") from unknown
        add_person(store, login, name, password, roles)
        typer.echo(f"{name} can sign in as {login}.")


@app.command()
def extract(
    files: Annotated[list[Path], typer.Argument(help="PDFs and pictures.")],
    kind: Annotated[str, typer.Option("--type", help="A starter or type by its key, or a file.")],
    as_json: Annotated[bool, typer.Option("--json", help="One JSON object per line and document.")] = False,
    best: Annotated[bool, typer.Option("--best", help="Read whole pages the slow, best way.")] = False,
    data: Types = None,
    ignore_embedded: Embedded = False,
    lists: Annotated[list[Path] | None, typer.Option("--list", help="A reference list: CSV, XLSX or JSON.")] = None,
) -> None:
    """Read files and print their values, without server or database."""
    from zestpail.core.extraction.files import extract_files
    from zestpail.core.reference.held import lists_in

    os.environ.setdefault("OMP_THREAD_LIMIT", "1")
    with _unreadable_said():
        document_type = _read_by(_type(kind, data), ignore_embedded)
        lists_in(tuple(lists or ()))
    for found in extract_files(files, document_type, "best" if best else "ordinary", lists=lists or ()):
        typer.echo(found.model_dump_json() if as_json else found.as_text(), nl=True)


@app.command(name="teach-classifier")
def teach_classifier(
    folder: Annotated[Path, typer.Argument(help="A folder with a sub-folder of samples for each type.")],
    out: Annotated[Path, typer.Option("--out", help="The file to write the classifier to.")],
) -> None:
    """Teach a classifier from samples, without server or database."""
    from zestpail.core.classification.faults import faults_of
    from zestpail.core.classification.file import written
    from zestpail.core.classification.folder import teach_folder

    os.environ.setdefault("OMP_THREAD_LIMIT", "1")
    with _unreadable_said():
        classifier, aside = teach_folder(folder)
        _write(out, written(classifier))
    for sentence in (*aside, *faults_of(classifier)):
        typer.echo(sentence, err=True)
    count = sum(len(one.samples) for one in classifier.types)
    typer.echo(f"{out}: {len(classifier.types)} types, {count} samples.")


@app.command()
def teach(
    folder: Annotated[Path, typer.Argument(help="Samples with their truth beside them, as NAME.truth.json.")],
    kind: Annotated[str, typer.Option("--type", help="The file of the type; a starter's key together with --out.")],
    out: Annotated[
        Path | None, typer.Option("--out", help="The file to write to; without it, that of the type.")
    ] = None,
) -> None:
    """Teach a document type by samples, without server or database."""
    from zestpail.core.document_type import load_type
    from zestpail.core.teaching.folder import teach_folder

    os.environ.setdefault("OMP_THREAD_LIMIT", "1")
    with _unreadable_said():
        known = load_type(kind)
        target = out or Path(kind)
        if not target.is_file() and out is None:
            typer.echo(f"{kind} is a starter, which stays as it is: say with --out where to write to.", err=True)
            raise typer.Exit(2)
        taught = teach_folder(folder, known)
    _write(target, taught.lesson.doc_type.model_dump_json(indent=1, exclude_defaults=False) + "\n")
    for sentence in (*taught.aside, *taught.lesson.faults):
        typer.echo(sentence, err=True)
    typer.echo(f"{target}: {taught.samples} samples, {taught.lesson.layouts} layouts.")


@app.command()
def classify(
    files: Annotated[list[Path], typer.Argument(help="PDFs and pictures; each is a pile of one document or more.")],
    by: Annotated[Path, typer.Option("--by", help="The file of the classifier.")],
    as_json: Annotated[bool, typer.Option("--json", help="One JSON object per line and document.")] = False,
) -> None:
    """Cut files into documents and say of what type each is, without server or database."""
    from zestpail.core.classification.file import load_classifier
    from zestpail.core.classification.files import classify_files

    os.environ.setdefault("OMP_THREAD_LIMIT", "1")
    with _unreadable_said():
        classifier = load_classifier(by)
    for found in classify_files(files, classifier):
        typer.echo(found.model_dump_json() if as_json else found.as_text())


@app.command()
def evaluate(
    folder: Annotated[
        Path,
        typer.Argument(
            help="Files with their truth beside them, as NAME.truth.json; for a classifier a folder per type."
        ),
    ],
    kind: Annotated[str, typer.Option("--type", help="A starter or type by its key, or a file.")] = "",
    classifier: Annotated[
        Path | None, typer.Option("--classifier", help="Measure a classifier instead; its file.")
    ] = None,
    against: Annotated[
        str, typer.Option("--against", help="Another state of the type: its file, a starter, or a revision's number.")
    ] = "",
    best: Annotated[bool, typer.Option("--best", help="Read whole pages the slow, best way.")] = False,
    data: Types = None,
    ignore_embedded: Embedded = False,
) -> None:
    """Measure how right a document type reads, or a classifier sorts, and what is wrong instead."""
    from zestpail.core.evaluation.folder import evaluate_folder
    from zestpail.core.evaluation.measure import report

    os.environ.setdefault("OMP_THREAD_LIMIT", "1")
    with _unreadable_said():
        if classifier is not None:
            from zestpail.core.classification.file import load_classifier
            from zestpail.core.evaluation.classification import class_report, evaluate_classifier

            typer.echo(class_report(evaluate_classifier(folder, load_classifier(classifier))))
        elif kind and against:
            now, other = (_read_by(one, ignore_embedded) for one in (_type(kind, data), _type(against, data, of=kind)))
            _compare(folder, now, other, against, best)
        elif kind:
            doc_type = _read_by(_type(kind, data), ignore_embedded)
            typer.echo(report(evaluate_folder(folder, doc_type, "best" if best else "ordinary")))
        else:
            typer.echo("Say what is to be measured: --type or --classifier.", err=True)
            raise typer.Exit(2)


@app.command(context_settings={"allow_extra_args": True, "ignore_unknown_options": True})
def test(context: typer.Context) -> None:
    """Run the tests, those in the browser too; what follows goes to pytest."""
    raise typer.Exit(subprocess.run([sys.executable, "-m", "pytest", *context.args], cwd=ROOT, check=False).returncode)


@app.command(context_settings={"allow_extra_args": True, "ignore_unknown_options": True})
def bench(context: typer.Context) -> None:
    """Measure reading; see docs/developer.md."""
    command = [sys.executable, "-m", "benchmarks.reading", *context.args]
    raise typer.Exit(subprocess.run(command, cwd=ROOT, check=False).returncode)


@app.command(hidden=True)
def intake() -> None:
    """The process that follows watched folders and receives e-mail; started by ``serve``."""
    from zestpail.desk.documents.desk_context import open_desk
    from zestpail.runtime import intakes

    settings = Settings()
    intakes.run(settings, open_desk(settings).store)


@app.command(hidden=True)
def web() -> None:
    """The web process; started by ``serve``."""
    import uvicorn

    from zestpail.api import create_api, create_calls, mounted
    from zestpail.desk.documents.desk_context import open_desk
    from zestpail.web.app import create_app
    from zestpail.web.shell.session import SessionLimits

    settings = Settings()
    server: uvicorn.Server
    desk = open_desk(settings)
    application = create_app(
        desk, settings.secret, stopping=lambda: server.should_exit, https=settings.https,
        sessions=SessionLimits(settings.idle_hours * 3600, settings.session_hours * 3600),
    )  # fmt: skip
    application.router.routes.append(mounted("/api/v1", create_api(desk)))
    application.mount("/calls", create_calls(desk))
    server = uvicorn.Server(
        uvicorn.Config(
            application, host=settings.host, port=settings.port, log_level="warning", timeout_graceful_shutdown=5,
            server_header=False,
        )
    )  # fmt: skip
    server.run()


def _write(path: Path, text: str) -> None:
    try:
        path.write_text(text, "utf-8")
    except OSError as problem:
        typer.echo(f"{path} cannot be written: {(problem.strerror or 'unknown reason').lower()}.", err=True)
        raise typer.Exit(2) from problem


def _compare(folder: Path, doc_type: DocumentType, other: DocumentType, name: str, best: bool) -> None:
    """Measure two states of a type on the same files."""
    from zestpail.core.evaluation.comparison import comparison_report, known_files
    from zestpail.core.evaluation.folder import evaluate_each

    after, before = evaluate_each(folder, (doc_type, other), "best" if best else "ordinary")
    for file in known_files(folder, doc_type):
        typer.echo(f"{file} is among the samples that the type was taught with: its figures flatter.", err=True)
    typer.echo(comparison_report(before, after, (name, "now")))


def _type(name: str, data: Path | None, of: str = "") -> DocumentType:
    """A starter or a file; with ``--data`` also a type that is worked on there, or a revision of the type ``of``.

    “unlearned” is that type without what samples taught it. Raises Unreadable.
    """
    from zestpail.core.document_type import load_type
    from zestpail.desk.documents.desk_context import open_desk
    from zestpail.desk.types.drafts import find_type, revision
    from zestpail.runtime import supervisor

    if of and name == "unlearned":
        return _type(of, data).model_copy(update={"learned": None})

    if data is None:
        return load_type(name)
    with _sentences(), supervisor.database(_settings(data, None)) as ready:
        store = open_desk(ready).store
        return revision(store, of, int(name)) if of and name.isdigit() else find_type(store, name)


def _read_by(doc_type: DocumentType, ignore_embedded: bool) -> DocumentType:
    from zestpail.core.extraction.embedded import paper_alone

    return paper_alone(doc_type) if ignore_embedded else doc_type


def _settings(data: Path | None, port: int | None) -> Settings:
    given = {"data": data.resolve() if data else None, "port": port}
    return Settings().model_copy(update={name: value for name, value in given.items() if value is not None})


def _serve(settings: Settings, prepare: Callable[[Store], list[str]], props: Props | None = None) -> None:
    """Serve what ``prepare`` sets up; with what stand-ins begin with, with the stand-ins too."""
    from zestpail.desk.documents.desk_context import open_desk
    from zestpail.runtime import processes, service_user, standins, supervisor, welcome

    os.umask(service_user.OTHERS_NOTHING)
    with _sentences(), supervisor.alone(settings):
        user, problem = service_user.service_user(settings.run_as, settings.data)
        processes.load()
        typer.echo(problem or f"Starting the database in {settings.data} …")
        with supervisor.database(supervisor.with_mail_port(settings), own=True) as served:
            ready, beside = standins.with_standins(served, props) if props else (served, [])
            with service_user.acting(user):
                store = open_desk(ready).store
                people = prepare(store)

            def greet(address: str) -> None:
                with service_user.acting(user):
                    typer.echo(welcome.greeting(address, people, ready))

            typer.echo(f"Starting the web pages and {settings.workers} workers …")
            supervisor.serve(ready, store, greet, beside, user)
            typer.echo("Stopping …")


class _sentences:
    """Problems of the machine end as a sentence and exit code 1."""

    def __enter__(self) -> None:
        return None

    def __exit__(self, kind: type[BaseException] | None, problem: BaseException | None, trace: object) -> None:
        from zestpail.runtime.cluster import CannotServe

        if isinstance(problem, CannotServe):
            typer.echo(str(problem), err=True)
            raise typer.Exit(1) from None


class _unreadable_said:
    """What cannot be read ends as a sentence and exit code 2."""

    def __enter__(self) -> None:
        return None

    def __exit__(self, kind: type[BaseException] | None, problem: BaseException | None, trace: object) -> None:
        from zestpail.core.problems import Unreadable

        if isinstance(problem, Unreadable):
            typer.echo(str(problem), err=True)
            raise typer.Exit(2) from None
