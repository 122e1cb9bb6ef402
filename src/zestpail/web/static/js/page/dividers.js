// Column dividers on the page: dragged, or moved with the arrow keys; where one is let go it is said to the server.
const STEP = 2; // points that an arrow key moves a divider
const BESIDE = 24; // points between a divider and one that is added by key

// Show the dividers that a template holds. "moved" is told of each that is let go elsewhere; where dividers may come
// and go, "taken" is told of one that is taken out with Delete, and "added" of a place for one more, with Insert.
export function showDividers(viewport, template, acts) {
  template?.content.querySelectorAll("i").forEach((place) => show(viewport, place.dataset, acts));
}

export function hideDividers(viewport) {
  for (const page of viewport.pages) page.element.querySelectorAll(".divider").forEach((old) => old.remove());
}

function show(viewport, { page: number, at, x, y0, y1, left, right }, { moved, taken, added }) {
  const page = viewport.pages[Number(number) - 1];
  const handle = document.createElement("button");
  handle.className = "divider";
  handle.setAttribute("role", "slider");
  Object.assign(handle.dataset, { left, right });
  const between = `${left} and ${right}`;
  handle.setAttribute("aria-label", `divider between ${between}`);
  handle.setAttribute("aria-valuemin", "0");
  handle.setAttribute("aria-valuemax", String(Math.round(page.width)));
  handle.title = `divider between ${between}: drag it, or move it with the arrow keys and press Enter` +
    (taken ? "; Delete takes it away, Insert adds one right of it" : "");
  handle.style.top = `${(100 * Number(y0)) / page.height}%`;
  handle.style.height = `${(100 * (Number(y1) - Number(y0))) / page.height}%`;
  let place = Number(x);
  const put = () => {
    handle.style.left = `${(100 * place) / page.width}%`;
    handle.setAttribute("aria-valuenow", String(Math.round(place)));
  };
  const done = () => {
    if (Math.abs(place - Number(x)) > 0.5) moved({ page_number: number, at, x: place.toFixed(1) });
  };
  put();
  handle.addEventListener("pointerdown", (event) => {
    event.stopPropagation();
    event.preventDefault();
    handle.focus();
    handle.setPointerCapture(event.pointerId);
    handle.onpointermove = (move) => {
      const edge = page.element.getBoundingClientRect();
      place = ((move.clientX - edge.left) / edge.width) * page.width;
      put();
      move.stopPropagation();
    };
    handle.onpointerup = (up) => {
      handle.onpointermove = handle.onpointerup = null;
      up.stopPropagation();
      done();
    };
  });
  handle.addEventListener("keydown", (event) => {
    const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (by) place += by;
    else if (event.key === "Enter") done();
    else if (event.key === "Delete" && taken) taken({ page_number: number, at });
    else if (event.key === "Insert" && added) added({ page_number: number, x: (place + BESIDE).toFixed(1) });
    else return;
    put();
    event.preventDefault();
    event.stopPropagation();
  });
  page.element.append(handle);
}

// A frame round a row on its page; null takes it away.
export function frameRow(viewport, number, box) {
  for (const page of viewport.pages) page.element.querySelectorAll(".row-mark").forEach((old) => old.remove());
  if (!box) return;
  const page = viewport.pages[number - 1];
  const [x0, y0, x1, y1] = box.split(",").map(Number);
  const mark = document.createElement("span");
  mark.className = "row-mark";
  const share = (value, of) => `${(100 * value) / of}%`;
  mark.style.left = share(x0 - 2, page.width);
  mark.style.top = share(y0 - 2, page.height);
  mark.style.width = share(x1 - x0 + 4, page.width);
  mark.style.height = share(y1 - y0 + 4, page.height);
  page.element.append(mark);
}
