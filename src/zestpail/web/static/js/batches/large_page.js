// One page in full size: a tool is picked, a box is drawn with the pointer or with keys, and the page is changed.
import { ask, formOf, NOT_DONE, part } from "../shell/server.js";

const TOOLS = { k: "crop", b: "black out", h: "highlight", n: "note" };
const STEP = 0.01; // share of a side that an arrow key moves by

export function largePage() {
  return {
    tool: "",
    box: null, // left, top, right, bottom as shares of the page's sides
    from: null,
    busy: false,
    opener: null,

    init() {
      const root = this.$root;
      document.body.addEventListener("look-at-page", (event) => this.open(event.detail));
      for (const news of [`live-batch-${root.dataset.batch}`, "live-open"])
        document.body.addEventListener(news, () => this.refresh());
      root.addEventListener("click", (event) => this.clicked(event));
      root.addEventListener("keydown", (event) => this.pressed(event));
      root.addEventListener("pointerdown", (event) => this.begin(event));
      root.addEventListener("pointermove", (event) => this.draw(event));
      root.addEventListener("pointerup", () => this.end());
      root.addEventListener("submit", (event) => this.submitted(event));
      root.addEventListener("cancel", (event) => {
        if (!this.tool) return;
        event.preventDefault();
        this.pick("");
      });
      root.addEventListener("close", () => {
        this.pick("");
        this.opener?.focus();
      });
    },

    large() {
      return this.$root.querySelector("#large");
    },

    async open({ page, opener }) {
      this.opener = opener;
      await this.ask(page);
      if (this.large().dataset.page === String(page) && !this.$root.open) this.$root.showModal();
    },

    refresh() {
      if (this.$root.open && !this.tool && !this.large().querySelector("img")) this.ask(this.large().dataset.page);
    },

    clicked(event) {
      const button = event.target.closest("button");
      if (!button) return;
      const { tool, toolAct, step, unpin } = button.dataset;
      if (tool) this.pick(tool === this.tool ? "" : tool);
      else if (toolAct === "close") this.$root.close();
      else if (toolAct) this.act(toolAct);
      else if (step) this.act("change step", { step });
      else if (unpin) this.act("take note off", { number: unpin });
    },

    pressed(event) {
      event.stopPropagation(); // the ribbon below has keys of its own
      const undo = event.ctrlKey && event.key.toLowerCase() === "z";
      if (event.target.closest("input") || (event.ctrlKey && !undo) || event.altKey || event.metaKey) return;
      const arrows = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, -STEP], ArrowDown: [0, STEP] };
      const by = arrows[event.key];
      const key = event.key.toLowerCase();
      const button = this.$root.querySelector(`[data-tool="${TOOLS[key]}"]`);
      if (TOOLS[key] && !button?.disabled) this.pick(TOOLS[key], true);
      else if (key === "t") this.act("turn");
      else if (undo) this.act("undo");
      else if (by && this.box) this.shift(by, event.shiftKey);
      else if (event.key === "Enter" && this.box && !event.target.closest("button")) this.finish();
      else return;
      event.preventDefault();
    },

    // With keys, a box stands in the middle of the page at once.
    pick(tool, byKey = false) {
      this.tool = tool;
      this.box = tool && byKey ? [0.35, 0.45, 0.65, 0.5] : null;
      this.$root.querySelectorAll("[data-tool]").forEach((button) =>
        button.setAttribute("aria-pressed", String(button.dataset.tool === tool)));
      this.$root.querySelector(".whole-page")?.classList.toggle("drawing", Boolean(tool));
      const noting = this.$root.querySelector(".noting");
      if (noting) noting.hidden = true;
      if (byKey) this.$root.querySelector(".whole-page")?.focus();
      this.show();
    },

    shift([dx, dy], sizing) {
      const [left, top, right, bottom] = this.box;
      const moved = sizing ? [left, top, right + dx, bottom + dy] : [left + dx, top + dy, right + dx, bottom + dy];
      if (moved[0] < 0 || moved[1] < 0 || moved[2] > 1.0001 || moved[3] > 1.0001) return;
      if (moved[2] - moved[0] < STEP / 2 || moved[3] - moved[1] < STEP / 2) return;
      this.box = moved;
      this.show();
    },

    at(event) {
      const edge = this.$root.querySelector(".whole-page img").getBoundingClientRect();
      const share = (value, from, length) => Math.min(Math.max((value - from) / length, 0), 1);
      return [share(event.clientX, edge.left, edge.width), share(event.clientY, edge.top, edge.height)];
    },

    begin(event) {
      if (!this.tool || event.button !== 0 || !event.target.closest(".whole-page")) return;
      this.from = this.at(event);
      event.preventDefault();
    },

    draw(event) {
      if (!this.from) return;
      const [x, y] = this.at(event);
      this.box = [Math.min(x, this.from[0]), Math.min(y, this.from[1]), Math.max(x, this.from[0]), Math.max(y, this.from[1])];
      this.show();
    },

    end() {
      if (!this.from) return;
      this.from = null;
      if (this.box) this.finish();
    },

    finish() {
      if (this.tool !== "note") return this.act(this.tool);
      const noting = this.$root.querySelector(".noting");
      noting.hidden = false;
      return noting.querySelector("input").focus();
    },

    submitted(event) {
      event.preventDefault();
      if (event.target.matches(".noting")) this.act("note", { text: event.target.querySelector("input").value });
    },

    show() {
      const drawn = this.$root.querySelector(".drawn");
      if (!drawn) return;
      drawn.hidden = !this.box;
      drawn.dataset.tool = this.tool;
      if (this.box) place(drawn, this.box);
    },

    act(act, more = {}) {
      const { page, width, height } = this.large().dataset;
      const body = formOf({ act, ...more });
      if (this.box) this.box.forEach((share, side) => body.append("box", share * (side % 2 ? height : width)));
      return this.ask(page, body);
    },

    async ask(page, body = null) {
      if (this.busy) return;
      const text = await ask(this, `/batches/${this.$root.dataset.batch}/pages/${page}`, body, NOT_DONE);
      if (text) this.swap(text);
      if (body) document.body.dispatchEvent(new CustomEvent("pages-changed"));
    },

    swap(html) {
      const fresh = part(html, "large");
      if (!fresh) return;
      this.large().replaceWith(fresh);
      fresh.querySelectorAll("[data-box]").forEach((pinned) => place(pinned, pinned.dataset.box.split(" ").map(Number)));
      this.pick("");
      this.$root.querySelector(".whole-page").tabIndex = -1;
      if (this.$root.open) this.$root.querySelector(".whole-page").focus();
      const hint = fresh.querySelector(".hint");
      if (fresh.dataset.notice && hint) hint.textContent = fresh.dataset.notice;
    },
  };
}

function place(element, [left, top, right, bottom]) {
  Object.assign(element.style, {
    left: `${left * 100}%`, top: `${top * 100}%`, width: `${(right - left) * 100}%`, height: `${(bottom - top) * 100}%`,
  });
}
