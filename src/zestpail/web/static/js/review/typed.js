// What is typed into a value or a cell is kept as soon as it is left, and never lost when the page is drawn anew.
// What the server refuses stands there, marked, until it is corrected or Esc puts back what was there.

const INPUTS = "#cards input[data-shown]";

// Whether something was typed that the server was not asked to keep yet.
export function changed(input) {
  return !input.readOnly && input.value !== (input.dataset.asked ?? input.dataset.shown);
}

export function asked(input) {
  input.dataset.asked = input.value;
  return { where: whereIs(input), text: input.value };
}

// The first text that was refused and still stands there.
export function refused() {
  return [...document.querySelectorAll(`${INPUTS}[aria-invalid=true]`)].find((input) => input.value !== input.dataset.shown);
}

export function putBack(input) {
  input.value = input.dataset.shown;
  delete input.dataset.asked;
  input.removeAttribute("aria-invalid");
}

// Where the focus is and what is being typed there; call what is returned when everything was drawn anew.
export function holding() {
  const at = document.activeElement;
  const where = whereIs(at);
  const typed = at?.matches?.(INPUTS) && changed(at) ? { text: at.value, start: at.selectionStart, end: at.selectionEnd } : null;
  const selected = at?.dataset?.selected;
  return () => {
    const fresh = where && document.querySelector(where);
    if (!fresh) return false;
    if (typed) fresh.value = typed.text;
    fresh.focus({ preventScroll: true });
    if (selected === undefined && fresh.dataset.shown !== undefined) delete fresh.dataset.selected;
    if (typed) fresh.setSelectionRange(typed.start, typed.end);
    return true;
  };
}

// How the server would understand what is being typed, while it is typed.
export function tellUnderstood(document_, input) {
  const card = input.closest(".card");
  const told = card?.querySelector(".understood");
  if (!told) return;
  clearTimeout(told.asking);
  told.asking = setTimeout(async () => {
    if (input.value === input.dataset.shown) return void (told.textContent = "");
    const question = new URLSearchParams({ text: input.value });
    const answer = await fetch(`/review/${document_}/fields/${card.dataset.key}/understood?${question}`);
    const { value } = input;
    const text = answer.ok ? await answer.text() : "";
    if (input.isConnected && value === input.value) told.textContent = text && `= ${text}`;
  }, 120);
}

// The server did not take it: it stands there, and is said to be wrong.
export function showRefused({ where, text }) {
  const input = document.querySelector(where);
  if (!input || input.value === text) return;
  input.value = text;
  input.dataset.asked = text;
  input.setAttribute("aria-invalid", "true");
}

function whereIs(element) {
  if (!element?.closest?.("#cards")) return null;
  const { row } = element.closest("[data-row]")?.dataset ?? {};
  if (element.dataset.column) return `.drawer [data-row="${row}"] input[data-column="${element.dataset.column}"]`;
  const card = element.closest(".card")?.id;
  const within = card ? `#${CSS.escape(card)}` : "#cards";
  if (element.matches("input")) return `${within} input`;
  if (element.id === card) return within;
  const names = ["act", "rowAct", "number", "check", "first"].filter((name) => element.dataset[name] !== undefined);
  return `${within} ${names.map((name) => `[data-${name.replace("A", "-a")}="${CSS.escape(element.dataset[name])}"]`).join("")}`;
}
