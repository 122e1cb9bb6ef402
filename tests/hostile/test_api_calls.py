"""Two thousand calls as the API's description allows them, and beyond: no error on our side, no undescribed answer."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)
from starlette.applications import Starlette

from tests.conftest import token_for
from tests.delivery.servers import served
from tests.desk.flow import drop, read_all
from zestpail.api import create_api, mounted
from zestpail.api.caller import Pace
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.store import Store

CALLS = 2_000
CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]


@pytest.fixture
def api(store: Store, ines: SignedIn, tmp_path: Path) -> Iterator[tuple[str, dict[str, str]]]:
    """The API over two documents, one of them in review, for a program that may do everything as often as it likes."""
    drop(store, ines, "brevanne-01.pdf", "bight-04.pdf")
    read_all(store)
    desk = Desk(store, tmp_path / "delivered", tmp_path / "arriving")
    application = Starlette(routes=[mounted("/api/v1", create_api(desk, Pace(1e9, 1e9)))])
    with served(application) as address:
        yield address, {"authorization": f"Bearer {token_for(store, 'tester', ines)}"}


def test_whatever_the_description_allows_is_answered_as_it_says(api: tuple[str, dict[str, str]]) -> None:
    address, details = api
    schema = schemathesis.openapi.from_url(f"{address}/api/v1/openapi.json")
    operations = [found.ok() for found in schema.get_all_operations()]
    share = CALLS // len(operations) + 1
    statuses: Counter[int] = Counter()

    def call(case: Any) -> None:
        case.headers = {**dict(case.headers or {}), **details}
        if "wait" in (case.query or {}):
            case.query["wait"] = 0
        answer = case.call(base_url=f"{address}/api/v1")
        statuses[answer.status_code] += 1
        case.validate_response(answer, checks=CHECKS)

    for operation in operations:
        quiet = settings(
            max_examples=share, deadline=None, database=None, derandomize=True, phases=[Phase.explicit, Phase.generate],
            suppress_health_check=list(HealthCheck),
        )  # fmt: skip
        quiet(given(case=operation.as_strategy())(call))()
    assert sum(statuses.values()) >= CALLS
    assert {200, 204, 404, 422} <= set(statuses), statuses
