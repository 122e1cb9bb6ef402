// Zoom and pan over the pages of a document, stacked one under the other. Lengths on pages are points; "scale" is
// CSS pixels per point; x and y are where the top-left corner of the first page stands in the paper.

const GAP = 14; // points between two pages
const EDGE = 10; // pixels around the page when it is shown whole
const MOST = 6;
const STEPS = [600, 900, 1200, 1800, 2600]; // the widths that page images are served in

export class Viewport {
  constructor(paper, sheets, moved) {
    this.paper = paper;
    this.sheets = sheets;
    this.moved = moved;
    this.pages = [...sheets.querySelectorAll(".sheet")].map((element) => ({
      element,
      id: element.dataset.page,
      number: Number(element.dataset.number),
      width: Number(element.dataset.width),
      height: Number(element.dataset.height),
    }));
    let top = 0;
    for (const page of this.pages) {
      page.top = top;
      top += page.height + GAP;
    }
    this.height = top - GAP;
    this.width = Math.max(...this.pages.map((page) => page.width));
    this.fit();
  }

  fit() {
    const { clientWidth, clientHeight } = this.paper;
    const first = this.pages[0];
    this.whole = Math.min((clientHeight - 2 * EDGE) / first.height, (clientWidth - 2 * EDGE) / this.width);
    this.scale = this.whole;
    this.x = (clientWidth - this.width * this.scale) / 2;
    this.y = EDGE;
    this.show();
  }

  // As wide as the paper is, where there is too little height to read the whole page.
  fitWidth() {
    this.fit();
    this.scale = Math.max((this.paper.clientWidth - 2 * EDGE) / this.width, this.whole);
    this.x = (this.paper.clientWidth - this.width * this.scale) / 2;
    this.show();
  }

  zoom(factor, at) {
    const scale = Math.min(Math.max(this.scale * factor, this.whole * 0.6), MOST);
    const point = at ?? { x: this.paper.clientWidth / 2, y: this.paper.clientHeight / 2 };
    this.x = point.x - ((point.x - this.x) * scale) / this.scale;
    this.y = point.y - ((point.y - this.y) * scale) / this.scale;
    this.scale = scale;
    this.show();
  }

  pan(dx, dy) {
    this.x += dx;
    this.y += dy;
    this.show();
  }

  // Move as little as needed to bring a box into comfortable view; glides unless motion is unwelcome.
  glideTo(number, box) {
    const page = this.pages[number - 1];
    const [x0, y0, x1, y1] = box;
    const { clientWidth, clientHeight } = this.paper;
    const inside = (low, high, size, margin) =>
      low < margin ? margin - low : high > size - margin ? size - margin - high : 0;
    const dx = inside(this.x + x0 * this.scale, this.x + x1 * this.scale, clientWidth, 20);
    const top = this.y + (page.top + y0) * this.scale;
    const dy = inside(top, top + (y1 - y0) * this.scale, clientHeight, 50);
    if (!dx && !dy) return;
    if (matchMedia("(prefers-reduced-motion: reduce)").matches) return this.pan(dx, dy);
    const from = { x: this.x, y: this.y };
    const start = performance.now();
    const step = (now) => {
      const part = Math.min((now - start) / 150, 1);
      const eased = part * (2 - part);
      this.x = from.x + dx * eased;
      this.y = from.y + dy * eased;
      this.show();
      if (part < 1) requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
  }

  // Where a box of a page stands in the paper, in pixels.
  toPaper(number, [x0, y0, x1, y1]) {
    const page = this.pages[number - 1];
    return {
      left: this.x + x0 * this.scale,
      top: this.y + (page.top + y0) * this.scale,
      right: this.x + x1 * this.scale,
      bottom: this.y + (page.top + y1) * this.scale,
    };
  }

  // Which page and which point of it a mouse event is over; null beside the pages.
  toPage(event) {
    const edge = this.paper.getBoundingClientRect();
    const x = (event.clientX - edge.left - this.x) / this.scale;
    const y = (event.clientY - edge.top - this.y) / this.scale;
    const page = this.pages.find((p) => y >= p.top && y <= p.top + p.height && x >= 0 && x <= p.width);
    return page ? { page, x, y: y - page.top } : null;
  }

  show() {
    const { clientWidth, clientHeight } = this.paper;
    const keep = 80; // pixels of the pages that stay in sight
    this.x = Math.min(Math.max(this.x, keep - this.width * this.scale), clientWidth - keep);
    this.y = Math.min(Math.max(this.y, keep - this.height * this.scale), clientHeight - keep);
    this.sheets.style.transform = `translate(${this.x}px, ${this.y}px)`;
    for (const page of this.pages) {
      const style = page.element.style;
      style.width = `${page.width * this.scale}px`;
      style.height = `${page.height * this.scale}px`;
      style.top = `${page.top * this.scale}px`;
      this.load(page);
    }
    this.moved();
  }

  // Fetch the page's image in the size that is needed, never a smaller one than is there.
  load(page) {
    const image = page.element.querySelector("img");
    if (!image) return;
    const needed = page.width * this.scale * devicePixelRatio;
    const width = STEPS.find((step) => step >= needed) ?? STEPS.at(-1);
    if (width <= (page.loaded ?? 0)) return;
    page.loaded = width;
    const next = new Image();
    next.onload = () => {
      if (page.loaded === width) image.src = next.src;
    };
    next.src = `/pages/${page.id}/image?width=${width}`;
  }
}
