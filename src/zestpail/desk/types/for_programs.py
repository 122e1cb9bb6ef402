"""How a program has files read by a type: working code to copy, for exactly this type and revision."""

from __future__ import annotations

from dataclasses import dataclass

from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.samples_of_code import Code, filled_in
from zestpail.store import Store
from zestpail.store.queries.types import last_revision


@dataclass(frozen=True)
class ForPrograms:
    """What a program needs to know of a type."""

    key: str
    name: str
    revision: int
    address: str
    field: str
    """One of its fields, which the code prints."""
    codes: list[Code]


def for_programs(store: Store, key: str, base: str, token: str = "") -> ForPrograms:
    """The address and the code; ``base`` is where the server is reached. Raises Missing where nothing is published."""
    with store.transaction() as session:
        found = last_revision(session, key)
        if found is None:
            raise Missing("This type has no published revision yet: publish it, then programs can use it.")
        name, number, fields = str(found.body["name"]), found.number, found.body.get("fields", [])
    field = str(fields[0]["key"]) if fields else "field"
    address = f"{base.rstrip('/')}/api/v1/types/{key}/extract?revision={number}"
    codes = filled_in(_CODES, {"ADDRESS": address, "FIELD": field}, token)
    return ForPrograms(key, name, number, address, field, codes)


_CODES = {
    "curl": """\
curl -H "Authorization: Bearer TOKEN" -F file=@paper.pdf \\
  "ADDRESS"
""",
    "Python": """\
import httpx

with open("paper.pdf", "rb") as paper:
    answer = httpx.post(
        "ADDRESS",
        headers={"Authorization": "Bearer TOKEN"},
        files={"file": paper},
        timeout=60,
    )
answer.raise_for_status()
print(answer.json()["fields"]["FIELD"]["value"])
""",
    "JavaScript": """\
import { readFile } from "node:fs/promises";

const form = new FormData();
form.append("file", new Blob([await readFile("paper.pdf")]), "paper.pdf");
const answer = await fetch("ADDRESS", {
  method: "POST",
  headers: { Authorization: "Bearer TOKEN" },
  body: form,
});
if (!answer.ok) throw new Error(await answer.text());
console.log((await answer.json()).fields.FIELD.value);
""",
    "C#": """\
using System.Net.Http.Headers;
using System.Text.Json;

using var client = new HttpClient();
client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", "TOKEN");
using var form = new MultipartFormDataContent();
form.Add(new ByteArrayContent(File.ReadAllBytes("paper.pdf")), "file", "paper.pdf");
using var answer = await client.PostAsync("ADDRESS", form);
answer.EnsureSuccessStatusCode();
using var told = JsonDocument.Parse(await answer.Content.ReadAsStringAsync());
Console.WriteLine(told.RootElement.GetProperty("fields").GetProperty("FIELD").GetProperty("value"));
""",
}
