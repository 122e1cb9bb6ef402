"""Carrying a type elsewhere: one JSON file, or a zip with its samples and what is right about them.

In the zip, ``type.json`` is the type; under ``samples/`` each file has its truth beside it (NAME.truth.json), in the
form in which ``evaluate`` takes it, with the sample's role and where the values stand.
"""

from __future__ import annotations

import io
import json
import math
import zipfile
import zlib
from pathlib import PurePosixPath
from typing import Any

from zestpail.core.learning.truth import TRUTH
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.intake.arrivals import shown_name
from zestpail.desk.types.drafts import exported, import_type
from zestpail.desk.types.samples import keep_sample
from zestpail.store import Store
from zestpail.store.queries.samples import samples_of
from zestpail.store.states import SampleRole
from zestpail.store.tables import Sample

TYPE = "type.json"
MOST_JSON, MOST_SAMPLES, MOST_BYTES = 2_000_000, 2000, 1_000_000_000


def exported_with_samples(store: Store, key: str) -> bytes:
    """The draft and its samples as a zip. Raises Missing."""
    body = exported(store, key)
    with store.transaction() as session:
        saved = [(s.id, s.name, s.blob, _truth(key, s)) for s in samples_of(session, key)]
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as carried:
        carried.writestr(TYPE, body)
        for number, name, blob, truth in saved:
            place = f"samples/{number}-{name.replace('/', '_')}"
            carried.writestr(place, store.blobs.get(blob), zipfile.ZIP_STORED)
            carried.writestr(place + TRUTH, json.dumps(truth, indent=1, ensure_ascii=False) + "\n")
    return out.getvalue()


def bring_in(store: Store, data: bytes, person_id: int) -> str:
    """Begin a type from a JSON file or from a zip with samples; returns its key. Raises NotDone with what is wrong."""
    if not data.startswith(b"PK"):
        if len(data) > MOST_JSON:
            raise NotDone(f"The file has more than {MOST_JSON // 1_000_000} MB; no document type is that long.")
        return import_type(store, data, person_id)
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as carried:
            return _unpacked(store, carried, person_id)
    except (zipfile.BadZipFile, zlib.error, RuntimeError, NotImplementedError, EOFError) as error:  # damaged, locked
        raise NotDone("This zip file is damaged, or locked with a password.") from error


def _unpacked(store: Store, carried: zipfile.ZipFile, person_id: int) -> str:
    entries = {info.filename: info for info in carried.infolist() if not info.is_dir()}
    if TYPE not in entries or entries[TYPE].file_size > MOST_JSON:
        raise NotDone(f"There is no {TYPE} in this zip; a type with its samples is exported from its page.")
    if len(entries) > 2 * MOST_SAMPLES or sum(info.file_size for info in entries.values()) > MOST_BYTES:
        raise NotDone(f"More than {MOST_SAMPLES} samples or {MOST_BYTES // 1_000_000} MB are not taken at once.")
    files = [name for name in entries if name.startswith("samples/") and not name.endswith(TRUTH)]
    too_big = [name for name in files if entries[name].file_size > store.limits.max_bytes]
    if too_big:
        raise NotDone(f"{shown_name(too_big[0])} is larger than any file that is read. Nothing was imported.")
    if carried.testzip():
        raise zipfile.BadZipFile
    truths = {name: _message(carried, entries, name + TRUTH) for name in files}
    key = import_type(store, carried.read(TYPE), person_id)
    for name in files:
        plain = PurePosixPath(name).name.split("-", 1)[-1]
        sample = keep_sample(store, key, plain, carried.read(name), person_id)
        with store.transaction() as session:
            row = session.get_one(Sample, sample, with_for_update=True)
            row.truth, row.role = truths[name]
    return key


def _truth(key: str, sample: Sample) -> dict[str, Any]:
    fields = {field: message["value"] for field, message in sample.truth.items()}
    places = {field: [message["page"], message["box"]] for field, message in sample.truth.items() if message["box"]}
    return {"type": key, "role": sample.role, "fields": fields, "places": places}


def _message(
    carried: zipfile.ZipFile, entries: dict[str, zipfile.ZipInfo], name: str
) -> tuple[dict[str, Any], SampleRole]:
    """The labels and the role of a sample; none where there is no truth. Raises NotDone where it is none."""
    if name not in entries:
        return {}, SampleRole.TRAINING
    try:
        details: dict[str, Any] = json.loads(carried.read(name)) if entries[name].file_size <= MOST_JSON else {}
        places = details.get("places", {})
        truth = {str(field): _label(value, places.get(field)) for field, value in details["fields"].items()}
        if "\\u0000" in json.dumps(truth):
            raise ValueError("a character that cannot be kept")
        return truth, SampleRole(details.get("role", SampleRole.TRAINING))
    except (ValueError, KeyError, TypeError, AttributeError) as error:
        raise NotDone(f"{shown_name(name)} holds no truth that can be read. Nothing was imported.") from error


def _label(value: object, place: object) -> dict[str, Any]:
    if value is not None and not isinstance(value, str):
        raise TypeError("a value is text")
    if place is None:
        return {"value": value, "page": None, "box": []}
    if not isinstance(place, list) or len(place) != 2 or len(place[1]) != 4:
        raise ValueError("a place is a page and a box of four sides")
    page, box = int(place[0]), [float(side) for side in place[1]]
    if page < 0 or not all(map(math.isfinite, box)):
        raise ValueError("no such place")
    return {"value": value, "page": page, "box": box}
