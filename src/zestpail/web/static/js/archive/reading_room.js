// The reading room: a document's pages with its values in the margins and the words of a search marked.
import { mark, stand } from "../page/card_layout.js";
import { outline } from "../page/picking.js";
import { typing } from "../shell/shell.js";
import { say } from "../shell/toast.js";
import { Viewport } from "../page/viewport.js";

const SVG = "http://www.w3.org/2000/svg";
const TURN = 1.2; // by how much a key or a notch of the wheel zooms
const PAN = 0.8; // share of the paper's height that Page Up and Page Down move by

export function readingRoom() {
  let viewport; // kept out of Alpine's reach: it would wrap it
  return {
    hits: [],
    at: -1, // the hit that is shown
    changed: false, // whether something was done to a page meanwhile

    init() {
      const paper = document.getElementById("paper");
      if (!paper) return;
      this.hits = [...document.getElementById("hits").content.children].map(({ dataset }) => ({
        page: Number(dataset.page), box: dataset.box.split(",").map(Number),
      }));
      viewport = new Viewport(paper, document.getElementById("sheets"), () => viewport && stand(viewport));
      this.draw();
      viewport.fitWidth();
      new ResizeObserver(() => viewport.fitWidth()).observe(paper);
      this.$root.addEventListener("click", (event) => this.clicked(event));
      paper.addEventListener("wheel", (event) => this.turned(event), { passive: false });
      paper.addEventListener("pointerdown", (event) => this.grasp(event));
      document.body.addEventListener("pages-changed", () => (this.changed = true));
      document.querySelector(".large-page").addEventListener("close", () => this.changed && location.reload());
      if (this.hits.length) this.show(0, false);
    },

    draw() {
      const cards = [...this.$root.querySelectorAll(".card")];
      for (const page of viewport.pages) {
        const marks = cards.filter((card) => Number(card.dataset.page) === page.number).map(mark);
        const hits = this.hits.flatMap((hit, number) => (hit.page === page.number ? [hitMark(hit, number)] : []));
        page.element.querySelector(".values").replaceChildren(...hits, ...marks);
      }
    },

    clicked(event) {
      const button = event.target.closest("button");
      if (!button) return;
      const { act, page, panel } = button.dataset;
      if (act === "next") this.show(this.at + 1);
      else if (act === "before") this.show(this.at - 1);
      else if (act === "value") this.activate(button.closest(".card"));
      else if (act === "work") this.work(button);
      else if (page) this.goTo(Number(page));
      else if (panel) this.open(button);
    },

    // Panels below the page: one at a time, closed by the same button.
    open(button) {
      const shown = button.getAttribute("aria-expanded") === "true";
      for (const one of this.$root.querySelectorAll("[data-panel]")) {
        const open = one === button && !shown;
        one.setAttribute("aria-expanded", String(open));
        document.getElementById(one.dataset.panel).hidden = !open;
      }
    },

    work(opener) {
      const page = viewport.pages[this.here() - 1].id;
      document.body.dispatchEvent(new CustomEvent("look-at-page", { detail: { page, opener } }));
    },

    // The number of the page in the middle of the paper.
    here() {
      const middle = (viewport.paper.clientHeight / 2 - viewport.y) / viewport.scale;
      return (viewport.pages.findLast((page) => page.top <= middle) ?? viewport.pages[0]).number;
    },

    goTo(number) {
      viewport.pan(0, 10 - viewport.y - viewport.pages[number - 1].top * viewport.scale);
      document.getElementById("paper").focus({ preventScroll: true });
    },

    show(number, aloud = true) {
      if (!this.hits.length) return;
      this.at = (number + this.hits.length) % this.hits.length;
      const { page, box } = this.hits[this.at];
      this.$root.querySelectorAll(".hit").forEach((one) => one.classList.toggle("at", Number(one.dataset.hit) === this.at));
      viewport.glideTo(page, box);
      const told = document.getElementById("hit-at");
      told.textContent = `${this.at + 1} of ${this.hits.length}`;
      if (aloud) say(`Place ${this.at + 1} of ${this.hits.length}, page ${page}.`);
    },

    activate(card) {
      const { key, box, page } = card.dataset;
      this.$root.querySelectorAll(".card").forEach((one) => one.classList.toggle("active", one === card));
      this.$root.querySelectorAll(".values > *").forEach((one) => one.classList.toggle("active", one.dataset.key === key));
      if (box) viewport.glideTo(Number(page), box.split(",").map(Number));
      stand(viewport);
    },

    turned(event) {
      event.preventDefault();
      const edge = viewport.paper.getBoundingClientRect();
      const at = { x: event.clientX - edge.left, y: event.clientY - edge.top };
      if (event.ctrlKey) viewport.zoom(event.deltaY < 0 ? TURN : 1 / TURN, at);
      else viewport.pan(-event.deltaX, -event.deltaY);
    },

    grasp(event) {
      if (event.button !== 0) return;
      const { paper } = viewport;
      paper.setPointerCapture(event.pointerId);
      paper.onpointermove = (move) => viewport.pan(move.movementX, move.movementY);
      paper.onpointerup = paper.onpointercancel = () => (paper.onpointermove = null);
    },

    key(event) {
      if (!viewport || typing(event) || event.ctrlKey || event.altKey || event.metaKey || document.querySelector("dialog[open]")) return;
      const moves = {
        n: () => this.show(this.at + 1),
        p: () => this.show(this.at - 1),
        "+": () => viewport.zoom(TURN),
        "-": () => viewport.zoom(1 / TURN),
        0: () => viewport.fit(),
        PageDown: () => viewport.pan(0, -PAN * viewport.paper.clientHeight),
        PageUp: () => viewport.pan(0, PAN * viewport.paper.clientHeight),
        ".": () => this.follow("older"),
        ",": () => this.follow("newer"),
      };
      const move = moves[event.key.length === 1 ? event.key.toLowerCase() : event.key];
      if (!move) return;
      event.preventDefault();
      move();
    },

    follow(id) {
      document.getElementById(id)?.click();
    },
  };
}

function hitMark(hit, number) {
  const shape = document.createElementNS(SVG, "rect");
  outline(shape, hit.box, 1);
  shape.setAttribute("class", "hit");
  shape.dataset.hit = number;
  return shape;
}
