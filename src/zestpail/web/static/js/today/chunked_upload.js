// Large files are sent in pieces, so that after a break only what is missing is sent; dropped again, they go on.

export const LARGE = 8_000_000; // bytes from which a file is sent so
const PIECE = 4_000_000;
const TRIES = 8; // how often a piece is tried again, a little later each time

// The number of the batch, or a sentence why the file was not kept. `tell` is given the share that is there.
export async function sendInPieces(file, lane, batch, tell) {
  const told = () => form({ lane, name: file.name, size: file.size, stamp: file.lastModified });
  const begun = await asked(() => fetch("/uploads", { method: "POST", body: told() }));
  if (typeof begun === "string") return begun;
  let there = begun.there;
  while (there < file.size) {
    tell(there / file.size);
    const piece = file.slice(there, there + PIECE);
    const answer = await asked(() => fetch(`/uploads/${begun.key}?offset=${there}`, { method: "PUT", body: piece }));
    if (typeof answer === "string") return answer;
    there = answer.there;
  }
  const to = `/uploads/${begun.key}/whole${batch === null ? "" : `?batch=${batch}`}`;
  const done = await asked(() => fetch(to, { method: "POST", body: told() }));
  return typeof done === "string" ? done : done.batch;
}

// The answer, or a sentence; what does not arrive is sent again.
async function asked(send) {
  for (let attempt = 1; ; attempt += 1) {
    try {
      const answer = await send();
      return answer.ok ? await answer.json() : await answer.text();
    } catch {
      if (attempt === TRIES) return "It broke off on the way; drop it again, and only what is missing is sent.";
      await new Promise((later) => setTimeout(later, attempt * 500));
    }
  }
}

function form(values) {
  const body = new FormData();
  for (const [name, value] of Object.entries(values)) body.append(name, value);
  return body;
}
