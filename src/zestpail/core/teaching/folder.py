"""Teaching a type from a folder of samples with their truth beside them."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from pathlib import Path

from zestpail.core.classification.folder import read_files
from zestpail.core.document_type import DocumentType
from zestpail.core.learning.labelled import Label, LabelledDocument
from zestpail.core.learning.truth import as_kept, files_with_truth, truth_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.teaching.learn import Lesson, learn
from zestpail.core.teaching.new_fields import with_new_fields


@dataclass(frozen=True)
class FolderLesson:
    """What came of teaching: the lesson, how many samples there were, and what could not be read."""

    lesson: Lesson
    samples: int
    aside: tuple[str, ...]


def teach_folder(folder: Path, doc_type: DocumentType) -> FolderLesson:
    """The type as the samples of the folder teach it. Raises Unreadable if there is none, or a truth is none.

    Values of which the type has no field get one.
    """
    files = files_with_truth(folder)
    truths = {path: truth_of(path) for path in files}
    samples: list[LabelledDocument] = []
    aside: list[str] = []
    kinds = {field.key: field.kind for field in doc_type.fields}
    for read in read_files(files):
        if read.problem:
            aside.append(f"{read.path.name}: {read.problem}")
            continue
        truth = truths[read.path]
        labels = {
            key: Label(as_kept(kinds[key], value) if key in kinds else value, *truth.places.get(key, ()))
            for key, value in truth.fields.items()
        }
        digest = hashlib.sha256(read.path.read_bytes()).hexdigest()
        samples.append(LabelledDocument(read.path.name, DocumentReading(read.pages), labels, digest))
    number = doc_type.learned.number + 1 if doc_type.learned else 1
    lesson = learn(with_new_fields(doc_type, samples), samples, number)
    return FolderLesson(lesson, len(samples), tuple(aside))
