"""How a program sends files to a lane and fetches what became of them: working code to copy, for exactly this lane."""

from __future__ import annotations

from dataclasses import dataclass

from zestpail.desk.documents.context import lane_of_key, revision_for
from zestpail.desk.documents.samples_of_code import Code, filled_in
from zestpail.store import Store


@dataclass(frozen=True)
class LaneForPrograms:
    """What a program needs to know of a lane."""

    key: str
    name: str
    type_key: str
    revision: int
    address: str
    codes: list[Code]


def lane_for_programs(store: Store, key: str, base: str, token: str = "") -> LaneForPrograms:
    """The address and the code; ``base`` is where the server is reached. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        name, revision = lane.name, revision_for(session, lane.settings)
        fields = revision.body.get("fields", [])
    field = str(fields[0]["key"]) if fields else "field"
    api = f"{base.rstrip('/')}/api/v1"
    address = f"{api}/lanes/{key}/files"
    codes = filled_in(_CODES, {"ADDRESS": address, "API": api, "FIELD": field, "LANE": key}, token)
    return LaneForPrograms(key, name, revision.key, revision.number, address, codes)


_CODES = {
    "curl": """\
curl -H "Authorization: Bearer TOKEN" -F file=@paper.pdf \\
  ADDRESS
curl -H "Authorization: Bearer TOKEN" \\
  "API/documents?settled=true&taken=false"
""",
    "Python": """\
import httpx

with httpx.Client(
    base_url="API",
    headers={"Authorization": "Bearer TOKEN"},
    timeout=90,
) as api:

    def ask(address, **asked):
        return api.get(address, params=asked).raise_for_status().json()

    with open("paper.pdf", "rb") as paper:
        answer = api.post("/lanes/LANE/files", files={"file": paper})
    batch = answer.raise_for_status().json()["batch"]
    standing = {"at_rest": False}
    while not standing["at_rest"]:  # read, and reviewed where that is needed
        standing = ask(f"/batches/{batch}", wait=60)
    for line in standing["documents"]:
        document = ask(f"/documents/{line['id']}")
        print(document["state"], document["fields"].get("FIELD", {}).get("value"))
""",
    "JavaScript": """\
import { readFile } from "node:fs/promises";

const headers = { Authorization: "Bearer TOKEN" };
const ask = async (address, more = {}) => {
  const answer = await fetch(address, { headers, ...more });
  if (!answer.ok) throw new Error(await answer.text());
  return answer.json();
};
const body = new FormData();
body.append("file", new Blob([await readFile("paper.pdf")]), "paper.pdf");
const sent = await ask("ADDRESS", { method: "POST", body });
let standing;
do standing = await ask(`API/batches/${sent.batch}?wait=60`);
while (!standing.at_rest);
for (const { id } of standing.documents) {
  const found = await ask(`API/documents/${id}`);
  console.log(found.state, found.fields.FIELD?.value);
}
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
var sent = JsonDocument.Parse(await answer.Content.ReadAsStringAsync());
var batch = sent.RootElement.GetProperty("batch").GetInt32();
JsonElement standing;
do
{
    var told = await client.GetStringAsync($"API/batches/{batch}?wait=60");
    standing = JsonDocument.Parse(told).RootElement;
} while (!standing.GetProperty("at_rest").GetBoolean());
foreach (var line in standing.GetProperty("documents").EnumerateArray())
{
    var id = line.GetProperty("id").GetInt32();
    Console.WriteLine(await client.GetStringAsync($"API/documents/{id}"));
}
""",
}
