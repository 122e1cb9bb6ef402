// Settings beside the page: they can be changed while the page and the proof strip are in sight.
// A dialog that stands beside the page, which can be worked on meanwhile.
export function beside(dialog) {
  return dialog?.classList.contains("beside");
}

// Settings that are open stay open when everything is drawn anew, at the same place; what was refused stands there still.
export function keptOpen(fresh) {
  const old = document.querySelector("#margins dialog.beside[open]");
  const next = old && fresh.querySelector(`#${old.id}`);
  if (!next || next.getAttribute("aria-label") !== old.getAttribute("aria-label")) return null;
  const at = document.activeElement;
  const name = old.contains(at) ? at.name : null;
  const value = at?.type === "checkbox" ? at.value : null;
  const unfolded = [...old.querySelectorAll("details[open] > summary")].map((one) => one.textContent);
  const top = old.scrollTop;
  return () => {
    const refused = document.getElementById("margins").dataset.refused;
    if (refused) next.replaceWith(old);
    const shown = refused ? old : next;
    if (!shown.open) shown.show();
    shown.querySelectorAll("details > summary").forEach((one) => {
      if (unfolded.includes(one.textContent)) one.parentElement.open = true;
    });
    shown.scrollTop = top;
    const again = name && [...shown.querySelectorAll(`[name="${CSS.escape(name)}"]`)].find((one) => value === null || one.value === value);
    (again ?? document.getElementById("paper"))?.focus({ preventScroll: true });
  };
}
