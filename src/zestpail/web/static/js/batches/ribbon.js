// The page ribbon: pages are picked, cut, joined, moved, left out and turned; the server says how they then lie.
import { ask, formOf, NOT_DONE, part } from "../shell/server.js";
import { typing } from "../shell/shell.js";
import { say } from "../shell/toast.js";

const FAR = 6; // pixels from which a press becomes a drag

export function ribbon() {
  return {
    at: "", // number of the page at hand
    chosen: new Set(), // numbers of the pages that are selected, if there are several
    busy: false,
    heard: false, // news that came at a bad moment
    waiting: [], // gestures that came while the server answered
    drag: null,

    init() {
      for (const news of [`live-batch-${this.$root.dataset.batch}`, "live-open", "pages-changed"])
        document.body.addEventListener(news, () => this.ask());
      this.$root.addEventListener("click", (event) => this.clicked(event));
      this.$root.addEventListener("dblclick", (event) => this.look(event.target.closest(".tile")));
      this.$root.addEventListener("keydown", (event) => this.pressed(event));
      this.$root.addEventListener("pointerdown", (event) => this.grasp(event));
      this.$root.addEventListener("pointermove", (event) => this.carry(event));
      window.addEventListener("pointerup", (event) => this.letGo(event));
      window.addEventListener("pointercancel", (event) => this.letGo(event));
      this.pick(this.tiles()[0], false);
    },

    tiles() {
      return [...this.$root.querySelectorAll(".tile")];
    },

    tile() {
      return this.$root.querySelector(`.tile[data-page="${this.at}"]`) ?? this.tiles()[0];
    },

    // The pages that an act is for, as they lie: those selected if this one is among them, else this one.
    several(tile) {
      const chosen = this.tiles().filter((one) => this.chosen.has(one.dataset.page));
      return chosen.length > 1 && chosen.includes(tile) ? chosen : [tile];
    },

    choose(tiles) {
      this.chosen = new Set(tiles.map((tile) => tile.dataset.page));
      this.showChosen();
    },

    showChosen() {
      const several = this.chosen.size > 1;
      for (const tile of this.tiles()) {
        const chosen = several && this.chosen.has(tile.dataset.page);
        tile.classList.toggle("chosen", chosen);
        if (chosen) tile.setAttribute("aria-selected", "true");
        else tile.removeAttribute("aria-selected");
      }
      const told = document.getElementById("chosen");
      if (told) told.textContent = several ? `${this.chosen.size} pages selected` : "";
    },

    // With Shift all pages up to this one, with Ctrl this one too or no more.
    extend(tile, { shiftKey }) {
      const tiles = this.tiles();
      const from = tiles.indexOf(this.tile());
      const at = tiles.indexOf(tile);
      if (shiftKey) this.choose(tiles.slice(Math.min(from, at), Math.max(from, at) + 1));
      else {
        if (!this.chosen.size) this.chosen.add(this.at);
        if (this.chosen.has(tile.dataset.page)) this.chosen.delete(tile.dataset.page);
        else this.chosen.add(tile.dataset.page);
        this.showChosen();
        this.pick(tile);
      }
    },

    pick(tile, focus = true) {
      if (!tile) return;
      this.$root.querySelectorAll(".tile[aria-current]").forEach((old) => {
        old.removeAttribute("aria-current");
        old.tabIndex = -1;
      });
      tile.setAttribute("aria-current", "true");
      tile.tabIndex = 0;
      this.at = tile.dataset.page;
      if (focus) tile.focus();
    },

    clicked(event) {
      if (event.target.closest("dialog")) return undefined;
      const button = event.target.closest("[data-act]");
      if (button) return this.mend(button.dataset.act, button.closest(".tile"));
      const tile = event.target.closest(".tile");
      if (tile && (event.shiftKey || event.ctrlKey || event.metaKey)) return this.extend(tile, event);
      if (!this.lassoed) this.choose([]);
      this.lassoed = false;
      return this.pick(tile);
    },

    pressed(event) {
      if (typing(event) || event.altKey || event.metaKey || event.target.closest("dialog")) return undefined;
      const tiles = this.tiles();
      const tile = this.tile();
      const number = tiles.indexOf(tile);
      const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
      if (event.ctrlKey && event.key === "z") {
        event.preventDefault();
        return this.mend("undo", tile);
      }
      if (event.ctrlKey && event.key === "a") {
        event.preventDefault();
        return this.choose(tiles.filter((one) => one.closest(".pile") === tile.closest(".pile")));
      }
      if (event.ctrlKey && !step) return undefined;
      const acts = {
        Home: () => this.pick(tiles[0]),
        End: () => this.pick(tiles.at(-1)),
        c: () => this.mend("cut", tile),
        j: () => this.mend("join", tile),
        Delete: () => this.mend(tile.dataset.out ? "take in" : "leave out", tile),
        t: () => this.mend("turn", tile),
        T: () => this.mend("turn back", tile),
        Enter: () => !event.target.closest("button, a") && this.look(tile),
        Escape: () => this.choose([]),
      };
      if (step && event.ctrlKey) this.move(tile, tiles[number + step], step > 0);
      else if (step) {
        const next = tiles[Math.min(Math.max(number + step, 0), tiles.length - 1)];
        if (event.shiftKey) {
          if (!this.chosen.size) this.chosen.add(this.at);
          this.chosen.add(next.dataset.page);
        } else this.chosen.clear();
        this.showChosen();
        this.pick(next);
      }
      else if (acts[event.key]) acts[event.key]();
      else return undefined;
      if (event.key !== "Enter" || !event.target.closest("button, a")) event.preventDefault();
      return undefined;
    },

    move(tile, target, after) {
      const moved = this.several(tile);
      let to = target;
      while (to && moved.includes(to)) to = this.tiles()[this.tiles().indexOf(to) + (after ? 1 : -1)];
      if (!to) return say("The page is at the end already.");
      return this.mend(after ? "move after" : "move before", tile, { target: to.dataset.page });
    },

    grasp(event) {
      const tile = event.target.closest(".tile");
      if (event.button !== 0 || event.target.closest("[data-act], button, a, dialog, form, header")) return;
      this.drag = { tile, x: event.clientX, y: event.clientY, moving: false };
    },

    carry(event) {
      const drag = this.drag;
      if (!drag) return undefined;
      if (!drag.moving && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < FAR) return undefined;
      drag.moving = true;
      if (!drag.tile) return this.lasso(event);
      drag.tile.classList.add("carried");
      drag.tile.style.translate = `${event.clientX - drag.x}px ${event.clientY - drag.y}px`;
      return this.mark(this.under(event));
    },

    // A box drawn beside the pages selects all that it touches.
    lasso(event) {
      const { x, y } = this.drag;
      const [left, right] = [Math.min(x, event.clientX), Math.max(x, event.clientX)];
      const [top, bottom] = [Math.min(y, event.clientY), Math.max(y, event.clientY)];
      const frame = this.$root.querySelector(".lasso") ?? this.$root.appendChild(document.createElement("i"));
      frame.className = "lasso";
      Object.assign(frame.style, { left: `${left}px`, top: `${top}px`, width: `${right - left}px`, height: `${bottom - top}px` });
      this.lassoed = true;
      this.choose(this.tiles().filter((tile) => {
        const edge = tile.getBoundingClientRect();
        return edge.left < right && edge.right > left && edge.top < bottom && edge.bottom > top;
      }));
    },

    letGo(event) {
      const drag = this.drag;
      this.drag = null;
      if (!drag) return;
      if (!drag.moving) {
        if (this.heard) this.ask();
        return;
      }
      this.$root.querySelector(".lasso")?.remove();
      if (!drag.tile) {
        if (this.heard) this.ask();
        return;
      }
      const { tile: target, after } = event.type === "pointerup" ? this.under(event) : {};
      drag.tile.classList.remove("carried");
      drag.tile.style.translate = "";
      if (this.heard) this.ask();
      this.mark({});
      if (!target || target === drag.tile) return;
      this.move(drag.tile, target, after);
    },

    // The page under the pointer, and whether it is behind its middle.
    under(event) {
      const tile = document.elementsFromPoint(event.clientX, event.clientY)
        .map((element) => element.closest(".tile")).find((one) => one && one !== this.drag?.tile);
      if (!tile) return {};
      const edge = tile.getBoundingClientRect();
      return { tile, after: event.clientX > edge.left + edge.width / 2 };
    },

    mark({ tile, after }) {
      this.$root.querySelectorAll(".drop-before, .drop-after").forEach((old) =>
        old.classList.remove("drop-before", "drop-after"));
      tile?.classList.add(after ? "drop-after" : "drop-before");
    },

    look(tile) {
      if (!tile) return;
      this.pick(tile);
      document.body.dispatchEvent(new CustomEvent("look-at-page", { detail: { page: tile.dataset.page, opener: tile } }));
    },

    mend(act, tile, more = {}) {
      const alone = ["cut", "join", "undo"].includes(act);
      const pages = tile && !alone ? this.several(tile).map((one) => one.dataset.page) : (tile?.dataset.page ?? 0);
      const body = formOf({ act, page: pages, ...more });
      if (tile) this.at = tile.dataset.page;
      return this.ask("ribbon", body);
    },

    // One after the other: what comes while the server answers is done then; news that came is asked for once.
    async ask(path = "stacks", body = null) {
      if (this.busy || this.drag) {
        if (body) this.waiting.push([path, body]);
        else this.heard = true;
        return;
      }
      const text = await ask(this, `/batches/${this.$root.dataset.batch}/${path}`, body, NOT_DONE);
      if (text) this.swap(text, Boolean(body));
      if (this.waiting.length) await this.ask(...this.waiting.shift());
      else if (this.heard) {
        this.heard = false;
        await this.ask();
      }
    },

    swap(html, asked) {
      const fresh = part(html, "stacks");
      if (!fresh) return;
      const inside = this.$root.contains(document.activeElement);
      document.getElementById("stacks").replaceWith(fresh);
      this.pick(this.tile(), asked || inside);
      this.showChosen();
      if (fresh.dataset.notice) say(fresh.dataset.notice);
    },
  };
}
