// The bench: point at a value, a landmark or a zone on the sample; the rules and the proof are the server's.
import { frameRow, hideDividers, showDividers } from "../page/dividers.js";
import { Picking } from "../page/picking.js";
import { beside, keptOpen } from "./beside.js";
import { pinned, sides } from "./pins.js";
import { Proposals } from "./proposals.js";
import { Walk } from "./walk.js";
import { ask, formOf, part } from "../shell/server.js";
import { typing } from "../shell/shell.js";
import { mark, stand, standSoon } from "../page/card_layout.js";
import { hush, say } from "../shell/toast.js";
import { Viewport } from "../page/viewport.js";

const MODES = {
  right: "Click or draw what is right for the field at hand.",
  field: "Click a value on the page: it becomes a field.",
  zone: "Draw a zone on the page: what stands in it becomes a field, held to the landmarks.",
  landmark: "Click what to measure from: printed words, a ruled line, a barcode, a box to be ticked, a blank strip.",
  table: "Draw round a table on the page, its header line too: its columns and rows are worked out.",
  row: "Draw round one row of the table: the others follow.",
  divider: "Click in the table where a new column begins.",
  "that one": "Click where it stands on this sample.",
};

const SHOWS = new Set(["focus", "sample", "elsewhere", "dial", "open", "set"]);
const SHOWN_AS = { within: "pages", way: "tries", needed: "required.on" };

export function bench() {
  let viewport, picking, proposals, walk; // kept out of Alpine's reach: it would wrap them
  return {
    mode: "right",
    busy: false,
    heard: false, // news that came at a bad moment, to be asked for when it is over
    mark: "", // the landmark that "no, that one" was said of
    waiting: [], // acts of the person that came while the server answered

    init() {
      document.body.addEventListener(`live-type-${this.$root.dataset.key}`, () => this.news());
      document.body.addEventListener("live-open", () => this.news());
      this.$root.addEventListener("all-sent", () => this.news());
      this.$root.addEventListener("click", (event) => this.clicked(event));
      this.$root.addEventListener("submit", (event) => this.submitted(event));
      this.$root.addEventListener("change", (event) => this.altered(event));
      this.$root.addEventListener("focusout", (event) => {
        const { target } = event;
        if (target.dataset.keeps !== undefined && target.value !== target.defaultValue) target.form.requestSubmit();
        this.overheard();
      });
      proposals = new Proposals(this);
      walk = new Walk(this);
      const paper = document.getElementById("paper");
      if (!document.querySelector(".sheet")) return;
      viewport = new Viewport(paper, document.getElementById("sheets"), () => this.arrange());
      picking = new Picking(paper, viewport, {
        words: (page, numbers) => this.inTurn(() => this.point(page, { numbers })),
        box: (page, [x0, y0, x1, y1]) => this.inTurn(() => this.point(page, { x0, y0, x1, y1 })),
        miss: (at) => this.inTurn(() => this.missed(at)),
      });
      new ResizeObserver(() => viewport.fit()).observe(paper);
      this.$root.addEventListener("load", () => viewport && standSoon(viewport), true);
      this.renew();
      if (!this.cards().length && !proposals.cards().length) this.enter("field");
    },

    state() {
      return document.getElementById("margins").dataset;
    },

    cards() {
      return [...document.querySelectorAll("#margins .margin.right .card:not(.proposal)")];
    },

    arrange() {
      if (viewport) stand(viewport);
    },

    // After the margins were drawn anew: frames and pins on the page, cards in their places.
    renew() {
      proposals.renew();
      if (!viewport) return;
      const cards = [...document.querySelectorAll("#margins .card[data-box]")];
      const pins = [...document.querySelectorAll("#margins .pin[data-box]")];
      for (const page of viewport.pages) {
        const here = (element) => Number(element.dataset.page) === page.number;
        page.element.querySelector(".values").replaceChildren(...cards.filter(here).map(mark), ...pins.filter(here).map(pinned));
      }
      const active = document.querySelector("#margins .card.active[data-box]");
      this.table();
      if (active) viewport.glideTo(Number(active.dataset.page), active.dataset.box.split(",").map(Number));
      this.arrange();
    },

    // The dividers of the table at hand, to be moved.
    table() {
      hideDividers(viewport);
      frameRow(viewport, 0, null);
      const key = document.querySelector("#margins .card.active[data-table]")?.dataset.table;
      if (!key) return;
      const tell = (path) => (what) => this.inTurn(() => this.change(`tables/${key}/${path}`, what));
      showDividers(viewport, document.querySelector(".live-rows .divider-places"), {
        moved: tell("divider"), taken: tell("divider/take"), added: tell("divider/add"),
      });
    },

    enter(mode) {
      this.mode = mode;
      this.showMode();
      if (mode !== "right") say(MODES[mode]);
    },

    showMode() {
      this.$root.dataset.mode = this.mode;
      document.querySelectorAll("[data-mode-of]").forEach((button) =>
        button.setAttribute("aria-pressed", String(button.dataset.modeOf === this.mode)));
    },

    point(page, what) {
      const field = this.state().active;
      if (this.mode === "right" && document.querySelector("#margins .card.active[data-table]")) {
        return say("A table is at hand. Press R and draw round a row, I to add a divider, or choose a field first.");
      }
      if (this.mode === "right" && !field) return say("Press F first: then a click on a value makes a field of it.");
      return this.change("point", { page_number: page, act: this.mode, mark: this.mark, ...what });
    },

    // One act after the other: what comes while the server answers is done then, on the newest state.
    inTurn(act) {
      if (this.busy) this.waiting.push(act);
      else act();
    },

    // A click beside all words: it may mean a barcode, a ruled line or a blank strip.
    missed(at) {
      if (!at) return say("There is no page here.");
      return this.point(at.page.number, { x0: at.x - 1, y0: at.y - 1, x1: at.x + 1, y1: at.y + 1 });
    },

    clicked(event) {
      const row = event.target.closest("[data-row-box]");
      if (row) return this.showRow(row.dataset);
      const modeOf = event.target.closest("[data-mode-of]")?.dataset.modeOf;
      if (modeOf) return this.enter(this.mode === modeOf ? "right" : modeOf);
      const button = event.target.closest("[data-act]");
      if (!button) return undefined;
      const { act, key, number, cells, setting, sample } = button.dataset;
      const acts = {
        focus: () => this.show(key),
        sample: () => this.go(sample),
        offer: () => this.change(`fields/${this.state().active}/offer`, { number }),
        remove: () => this.change(`fields/${key}/remove`, {}),
        header: () => this.change(`tables/${key}/header`, { headed: Boolean(button.dataset.headed) }),
        "take-over": () => this.change(`tables/${key}/take-over`, { number }),
        "remove-table": () => this.change(`tables/${key}/remove`, {}),
        answer: () => this.change(`landmarks/${key}/answer`, { reply: button.dataset.reply }),
        elsewhere: () => {
          this.mark = key;
          this.enter("that one");
        },
        dial: () => this.dial(key),
        open: () => this.open(button.dataset.dialog),
        uncheck: () => this.change(`checks/${number}/remove`, {}),
        unmark: () => this.change(`landmarks/${key}/remove`, {}),
        confirm: () => this.change("confirm", { cells: cells.split(" ") }),
        undo: () => this.change("undo", {}),
        learn: () => this.learn(),
        choose: () => proposals.choose(key),
        keep: () => proposals.keep(key),
        throw: () => proposals.throwAway(key),
        "keep-all": () => proposals.all("keep"),
        "throw-all": () => proposals.all("throw-away"),
        "throw-none": () => this.change("proposals/throw-away", {}),
        propose: () => this.propose(!button.dataset.off),
        walk: () => walk.begin(),
        set: () => this.set(setting),
        close: () => button.closest("dialog").close(),
      };
      // A button that was drawn anew meanwhile was meant for what has gone, unless it only shows something.
      return this.inTurn(() => (button.isConnected || SHOWS.has(act)) && acts[act]?.());
    },

    propose(on) {
      return this.ask(`margins?sample=${this.state().sample}&field=${this.state().active}${on ? "&proposing=true" : ""}`);
    },

    learn() {
      say("Learning from the samples …");
      return this.change("learn", {});
    },

    showRow({ rowPage, rowBox }) {
      frameRow(viewport, Number(rowPage), rowBox);
      viewport.glideTo(Number(rowPage), rowBox.split(",").map(Number));
    },

    open(id) {
      const dialog = document.getElementById(id);
      if (!dialog) return null; // its field has gone meanwhile
      dialog.addEventListener("close", () => this.overheard(), { once: true });
      if (beside(dialog)) dialog.show();
      else dialog.showModal();
      return dialog;
    },

    set(setting) {
      const input = this.open("settings")?.querySelector(`[name="${SHOWN_AS[setting] ?? setting}"]`);
      const folded = input?.closest("details");
      if (folded) folded.open = true;
      input?.focus();
      if (input?.matches("textarea")) input.setSelectionRange(input.value.length, input.value.length);
    },

    // The dial of a landmark with the places of all samples on either side, from the server.
    async dial(key) {
      const text = await ask(this, `/types/${this.$root.dataset.key}/landmarks/${key}`, null, "There is no such landmark any more.");
      if (text) this.turnDial(part(text, "dial"));
      this.catchUp();
    },

    turnDial(fresh) {
      document.getElementById("dial")?.remove();
      document.getElementById("margins").append(fresh);
      const range = fresh.querySelector("[name=alike]");
      range.addEventListener("input", () => sides(fresh, Number(range.value)));
      sides(fresh, Number(range.value));
      return this.open("dial");
    },

    submitted(event) {
      const form = event.target.closest("form[data-path]");
      if (!form) return;
      event.preventDefault();
      if (beside(form.closest("dialog"))) return void form.closest("dialog").close(); // its changes were made one by one
      const kept = form.querySelector("[data-keeps]");
      if (kept) kept.defaultValue = kept.value; // it is not sent again when it is left
      form.closest("dialog")?.close();
      this.send(form);
    },

    // Settings beside the page apply as they are changed, so that the proof strip can be followed.
    altered(event) {
      if (beside(event.target.closest("dialog"))) this.send(event.target.form);
    },

    send(form) {
      const what = {};
      for (const [name, value] of new FormData(form)) what[name] = name in what ? [].concat(what[name], value) : value;
      this.inTurn(() => this.change(form.dataset.path, what));
    },

    key(event) {
      if (document.querySelector("dialog:modal")) return;
      const ctrl = event.ctrlKey || event.metaKey;
      if (typing(event)) {
        if (event.key === "Escape") {
          if (event.target.dataset.keeps !== undefined) event.target.value = event.target.defaultValue;
          event.target.closest("dialog.beside")?.close();
          document.getElementById("paper").focus();
        }
        return;
      }
      if (ctrl && event.key.toLowerCase() === "z") return this.handled(event, () => this.change("undo", {}));
      if (ctrl || event.altKey) return;
      const onButton = event.target.matches?.("button, a");
      const actions = {
        f: () => this.enter("field"),
        z: () => this.enter("zone"),
        l: () => this.enter("landmark"),
        t: () => this.enter("table"),
        r: () => document.querySelector("#margins [data-mode-of=row]") && this.enter("row"),
        i: () => document.querySelector("#margins [data-mode-of=divider]") && this.enter("divider"),
        n: () => this.learn(),
        g: () => this.propose(true),
        q: () => this.open("asking"),
        u: () => walk.begin(),
        k: () => proposals.keep(),
        x: () => proposals.throwAway(),
        p: () => location.assign(document.getElementById("to-sheet").href),
        y: () => document.querySelector("#margins [data-act=confirm].one")?.click(),
        e: () => document.querySelector("#margins .card.active input")?.select(),
        Escape: () => walk.end() || (document.querySelector("dialog.beside[open]") ?? { close: () => this.enter("right") }).close(),
        ArrowDown: () => proposals.step(1) || this.step(1),
        ArrowUp: () => proposals.step(-1) || this.step(-1),
        ArrowRight: () => this.turn(1),
        ArrowLeft: () => this.turn(-1),
        PageDown: () => viewport?.pan(0, -0.8 * viewport.paper.clientHeight),
        PageUp: () => viewport?.pan(0, 0.8 * viewport.paper.clientHeight),
        "+": () => viewport?.zoom(1.25),
        "-": () => viewport?.zoom(0.8),
        0: () => viewport?.fit(),
      };
      const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      if (event.key === " " && !onButton && picking) {
        picking.space = true;
        event.preventDefault();
      } else if (/^[1-4]$/.test(event.key)) {
        this.inTurn(() => document.querySelector(`#margins [data-act=offer][data-number="${event.key}"]`)?.click());
      } else if (actions[name]) this.handled(event, actions[name]);
    },

    keyUp(event) {
      if (event.key === " " && picking) picking.space = false;
    },

    handled(event, action) {
      event.preventDefault();
      this.inTurn(action);
    },

    step(by) {
      const cards = this.cards();
      const at = cards.findIndex((card) => card.classList.contains("active"));
      const next = cards[Math.min(Math.max(at + by, 0), cards.length - 1)];
      if (next) this.show(next.dataset.key);
    },

    turn(by) {
      const ready = this.state().samples.split(" ");
      const next = ready[ready.indexOf(this.state().sample) + by];
      if (next) this.go(next);
    },

    go(sample) {
      location.assign(`/types/${this.$root.dataset.key}?sample=${sample}&field=${this.state().active}`);
    },

    show(key) {
      return this.ask(`margins?sample=${this.state().sample}&field=${key}${this.proposing()}`);
    },

    // Samples were read, or a colleague edited.
    news() {
      const typed = document.activeElement.matches("#margins input"); // what is being typed is not lost
      this.heard = this.busy || typed || Boolean(document.querySelector("dialog[open], [data-sending]"));
      if (this.heard) return undefined;
      return this.ask(`margins?sample=${this.state().sample}&field=${this.state().active}${this.proposing()}`, null, true);
    },

    proposing() {
      return this.state().proposing ? "&proposing=true" : "";
    },

    // Ask for the news that came while the page could not be drawn anew.
    overheard() {
      if (this.heard) setTimeout(() => this.news());
    },

    async change(path, what) {
      const { version, sample, active } = this.state();
      await this.ask(path, formOf({ version, sample, field: active, ...what }));
    },

    async ask(path, body, onlyIfNew = false) {
      if (this.busy) return;
      const text = await ask(this, `/types/${this.$root.dataset.key}/${path}`, body);
      if (text) this.swap(text, onlyIfNew);
      this.catchUp();
    },

    // What came while the server answered: first what the person did, then the news.
    catchUp() {
      while (!this.busy && this.waiting.length) this.waiting.shift()();
      if (!this.busy) this.overheard();
    },

    swap(html, onlyIfNew) {
      const fresh = part(html, "margins");
      if (onlyIfNew && fresh.dataset.stamp === this.state().stamp) return;
      if (onlyIfNew && !viewport && fresh.dataset.sample !== "0") return void location.reload(); // the first one is there
      const open = keptOpen(fresh);
      document.getElementById("margins").replaceWith(fresh);
      open?.();
      if (onlyIfNew) this.showMode(); // news take nothing out of the hand, and no sentence from the eye
      else this.enter(fresh.dataset.refused ? this.mode : "right");
      if (fresh.dataset.notice) say(fresh.dataset.notice);
      else if (!onlyIfNew) hush();
      this.renew();
      walk.forward();
    },
  };
}
