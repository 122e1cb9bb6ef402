// What the mouse does on the page: a click takes a word, a drag draws a box, Space-drag or a drag beside the page
// moves it, the wheel moves and, with Ctrl, zooms.

const A_DRAG = 4; // pixels

export class Picking {
  constructor(paper, viewport, actions) {
    this.paper = paper;
    this.viewport = viewport;
    this.actions = actions;
    this.words = new Map();
    this.picked = { page: 0, numbers: [] };
    this.space = false;
    paper.addEventListener("pointerdown", (event) => this.down(event));
    paper.addEventListener("pointermove", (event) => this.move(event));
    paper.addEventListener("pointerup", (event) => this.up(event));
    paper.addEventListener("pointercancel", () => this.cancel());
    paper.addEventListener("pointerleave", () => this.hover(null));
    paper.addEventListener("wheel", (event) => this.wheel(event), { passive: false });
    viewport.pages.forEach((page) => this.fetchWords(page));
  }

  async fetchWords(page) {
    const answer = await fetch(`/pages/${page.id}/words`);
    this.words.set(page.number, answer.ok ? await answer.json() : []);
    page.element.dataset.words = String(this.words.get(page.number).length);
  }

  // Forget the words picked for the field before: a Ctrl-click on another field begins anew.
  begin() {
    this.picked = { page: 0, numbers: [] };
  }

  down(event) {
    if (event.button > 1) return;
    const at = this.viewport.toPage(event);
    const moving = !at || this.space || event.button === 1;
    this.drag = { moving, at, x: event.clientX, y: event.clientY, far: false };
    this.paper.setPointerCapture(event.pointerId);
    event.preventDefault();
    this.paper.focus({ preventScroll: true });
  }

  move(event) {
    if (!this.drag) return this.hover(this.wordAt(event));
    const dx = event.clientX - this.drag.x;
    const dy = event.clientY - this.drag.y;
    if (this.drag.moving) {
      this.viewport.pan(dx, dy);
      this.drag.x = event.clientX;
      this.drag.y = event.clientY;
      return;
    }
    if (Math.hypot(dx, dy) > A_DRAG) this.drag.far = true;
    if (this.drag.far) this.draw(this.boxTo(event));
  }

  up(event) {
    const drag = this.drag;
    if (!drag) return;
    this.drag = null;
    if (drag.moving) return;
    const page = drag.at.page;
    if (drag.far) {
      this.drag = drag;
      const box = this.boxTo(event);
      this.drag = null;
      this.actions.box(page.number, box);
      setTimeout(() => this.draw(null, page), 400);
      return;
    }
    const word = this.wordAt(event);
    if (word) this.take(word, event);
    else this.actions.miss(this.viewport.toPage(event));
  }

  cancel() {
    if (this.drag?.at) this.draw(null, this.drag.at.page);
    this.drag = null;
  }

  take(word, event) {
    const same = this.picked.page === word.page.number && this.picked.numbers.length;
    if (event.shiftKey && same) {
      const [low, high] = [this.picked.numbers.at(-1), word.number].sort((a, b) => a - b);
      this.picked.numbers = Array.from({ length: high - low + 1 }, (_, at) => low + at);
    } else if ((event.ctrlKey || event.metaKey) && same) {
      this.picked.numbers = [...this.picked.numbers.filter((n) => n !== word.number), word.number];
    } else {
      this.picked = { page: word.page.number, numbers: [word.number] };
    }
    this.actions.words(this.picked.page, this.picked.numbers);
  }

  wheel(event) {
    event.preventDefault();
    if (event.ctrlKey || event.metaKey) {
      const edge = this.paper.getBoundingClientRect();
      const at = { x: event.clientX - edge.left, y: event.clientY - edge.top };
      this.viewport.zoom(Math.exp(-event.deltaY / 300), at);
    } else if (event.shiftKey) this.viewport.pan(-event.deltaY, 0);
    else this.viewport.pan(-event.deltaX, -event.deltaY);
  }

  wordAt(event) {
    const at = this.viewport.toPage(event);
    const words = at && this.words.get(at.page.number);
    if (!words) return null;
    const slack = 1.5;
    const number = words.findIndex(([, x0, y0, x1, y1]) =>
      at.x >= x0 - slack && at.x <= x1 + slack && at.y >= y0 - slack && at.y <= y1 + slack);
    return number < 0 ? null : { page: at.page, number, box: words[number].slice(1) };
  }

  boxTo(event) {
    const edge = this.paper.getBoundingClientRect();
    const { page, x, y } = this.drag.at;
    const toX = (event.clientX - edge.left - this.viewport.x) / this.viewport.scale;
    const toY = (event.clientY - edge.top - this.viewport.y) / this.viewport.scale - page.top;
    return [Math.min(x, toX), Math.min(y, toY), Math.max(x, toX), Math.max(y, toY)];
  }

  hover(word) {
    for (const page of this.viewport.pages) {
      const rect = page.element.querySelector("rect.hover");
      if (word?.page === page) outline(rect, word.box, 1.5);
      else rect.setAttribute("hidden", "");
    }
  }

  draw(box, page = this.drag?.at.page) {
    const rect = page.element.querySelector("rect.drawn");
    if (box) outline(rect, box, 0);
    else rect.setAttribute("hidden", "");
  }
}

export function outline(rect, [x0, y0, x1, y1], margin) {
  rect.removeAttribute("hidden");
  rect.setAttribute("x", x0 - margin);
  rect.setAttribute("y", y0 - margin);
  rect.setAttribute("width", x1 - x0 + 2 * margin);
  rect.setAttribute("height", y1 - y0 + 2 * margin);
}
