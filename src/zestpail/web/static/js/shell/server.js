// Asking the server for a part of the page, one thing at a time; what cannot be had is told in a sentence.
import { say } from "./toast.js";

export const NOT_DONE = "This could not be done. Load the page again to see how it stands.";
const SILENT = "Zest Pail does not answer. Nothing was changed; try again in a moment.";

// A form with these values; a list has its name once for each of its entries.
export function formOf(values) {
  const form = new FormData();
  for (const [name, value] of Object.entries(values)) [].concat(value).forEach((one) => form.append(name, one));
  return form;
}

// That part of an answer, as an element; null where it is not in it.
export function part(html, id) {
  return new DOMParser().parseFromString(html, "text/html").getElementById(id);
}

// What the server answers, or null after telling why not. The component is busy in between.
export async function ask(component, address, body = null, refused = "") {
  component.busy = true;
  component.$root.classList.add("busy");
  try {
    const answer = await fetch(address, body ? { method: "POST", body } : {});
    const text = await answer.text();
    if (answer.ok) return text;
    say(refused || text);
  } catch {
    say(SILENT);
  } finally {
    component.busy = false;
    component.$root.classList.remove("busy");
  }
  return null;
}
