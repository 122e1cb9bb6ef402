"""Fields that are asked for in plain words."""

from __future__ import annotations

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import Question
from zestpail.core.learning.asked import kind_of_answer
from zestpail.core.teaching.field_proposal import key_for
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.types.bench.edits import At, write
from zestpail.desk.types.drafts import draft_type
from zestpail.store import Store

LONGEST_NAME = 60


def add_questions(store: Store, at: At, text: str) -> str:
    """A field for each line of the text, which answers it; returns the key of the last. Raises NotDone."""
    asked = [" ".join(line.split()) for line in text.splitlines() if line.strip()]
    if not asked or any(len(question) < 3 for question in asked):
        raise NotDone("Write what you would ask a colleague, such as “Until when may the vessel lie there?”")
    doc_type = draft_type(store, at.key)
    fields = list(doc_type.fields)
    for question in asked:
        name = question.strip(" ¿?")[:LONGEST_NAME]
        key = key_for(name[:40], [field.key for field in fields])
        fields.append(
            FieldRule(key=key, name=name, kind=kind_of_answer(question), finders=(Question(question=question),))
        )
    told = f"asks “{asked[0]}”" if len(asked) == 1 else f"asks {len(asked)} questions"
    write(store, at, doc_type.model_copy(update={"fields": tuple(fields)}), told)
    return fields[-1].key
