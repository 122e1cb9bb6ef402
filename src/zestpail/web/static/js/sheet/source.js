// Where the batch sheet's rows come from, and where changes go: a few documents at a time, so that there is progress.
const AT_ONCE = 20; // documents in one request

export class Source {
  constructor(address) {
    this.address = address;
    this.sheet = { columns: [], types: {}, rows: [], more: 0 };
    this.steps = []; // documents changed together here, the last ones last
  }

  async load() {
    this.sheet = await json(this.address);
    this.byId = new Map(this.sheet.rows.map((row) => [row.id, row]));
  }

  // Rows that are not as they were seen: somebody else changed them, or they came meanwhile. Tells whether there are any.
  async renew() {
    const fresh = await send(this.address, { versions: this.versions(this.sheet.rows) });
    const came = fresh.rows.filter((row) => !this.byId.has(row.id));
    this.take(fresh.rows);
    this.sheet.rows.push(...came);
    came.forEach((row) => this.byId.set(row.id, row));
    if (came.length) Object.assign(this.sheet, { columns: fresh.columns, types: fresh.types });
    return { came: came.length, changed: fresh.rows.length - came.length };
  }

  versions(rows) {
    return Object.fromEntries(rows.map((row) => [row.id, row.version]));
  }

  take(fresh) {
    for (const row of fresh) Object.assign(this.byId.get(row.id) ?? {}, row);
    return fresh;
  }

  // Change cells: [row, key, text], with null for what stands as it is. Tells how far it is; returns what was refused.
  async change(cells, tell) {
    const by = Map.groupBy(cells, ([row]) => row.id);
    const refused = await this.several([...by.keys()], "/sheets/changes", tell, (ids) =>
      ids.flatMap((id) => by.get(id).map(([row, key, text]) => ({ document: id, version: this.byId.get(id)?.version ?? row.version, key, text }))));
    const failed = new Set(refused.map((one) => one.document));
    const done = [...by.keys()].filter((id) => !failed.has(id) || by.get(id).length > 1);
    if (done.length) this.steps.push(done);
    return refused;
  }

  async undo(tell) {
    const ids = this.steps.pop();
    if (!ids) return null;
    return this.several(ids, "/sheets/undo", tell, (some) => ({ versions: this.versions(some.map((id) => this.byId.get(id))) }));
  }

  async settle(rows, tell) {
    return this.several(rows.map((row) => row.id), "/sheets/settle", tell, (some) => ({ versions: this.versions(some.map((id) => this.byId.get(id))) }));
  }

  async several(ids, address, tell, bodyOf) {
    const refused = [];
    for (let at = 0; at < ids.length; at += AT_ONCE) {
      const some = ids.slice(at, at + AT_ONCE);
      const answer = await send(address, bodyOf(some));
      this.take(answer.rows);
      refused.push(...answer.refused);
      tell(Math.min(at + AT_ONCE, ids.length), ids.length);
    }
    return refused;
  }

  async export(rows, columns, form) {
    const answer = await post("/sheets/export", { ids: rows.map((row) => row.id), keys: columns.map((one) => one.key), form });
    const link = document.createElement("a");
    link.href = URL.createObjectURL(await answer.blob());
    link.download = `batch-sheet.${form}`;
    link.click();
    URL.revokeObjectURL(link.href);
  }
}

async function json(address) {
  const answer = await fetch(address, { headers: { accept: "application/json" } });
  if (!answer.ok) throw new Error(await answer.text());
  return answer.json();
}

async function send(address, body) {
  return (await post(address, body)).json();
}

async function post(address, body) {
  const answer = await fetch(address, { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) });
  if (!answer.ok) throw new Error("This could not be done. Load the page again to see how it stands.");
  return answer;
}
