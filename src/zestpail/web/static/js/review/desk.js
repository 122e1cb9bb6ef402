// The review desk: the page in the middle, the cards in its margins, from doubt to doubt by keyboard.
// What a value is and whether it may be so is decided by the server; every action answers with the cards anew.
import { offerTakeBack } from "../shell/afterwards.js";
import { Drawer } from "./drawer.js";
import { Picking } from "../page/picking.js";
import { ask, formOf, part } from "../shell/server.js";
import { typing } from "../shell/shell.js";
import { asked, changed, holding, putBack, refused, showRefused, tellUnderstood } from "./typed.js";
import { mark, stand, standSoon } from "../page/card_layout.js";
import { say } from "../shell/toast.js";
import { Viewport } from "../page/viewport.js";

const MANY_ROWS = 3; // failing alike, they are one question and not as many

// Where the server takes what is said of a card: a field, or the entry of a reference list.
const of = (card) => (card.dataset.list ? `entries/${card.dataset.list}` : `fields/${card.dataset.key}`);

export function desk() {
  let viewport, picking, drawer; // kept out of Alpine's reach: it would wrap them
  return {
    active: null,
    busy: false,
    early: [], // what was pressed or left while the server was still at work: it counts, in its order
    keeping: false, // what was typed is on its way to the server
    drawing: false, // everything is being drawn anew: the focus moves by itself

    init() {
      const paper = document.getElementById("paper");
      viewport = new Viewport(paper, document.getElementById("sheets"), () => this.arrange());
      picking = new Picking(paper, viewport, {
        words: (page, numbers) => this.take("words", { page_number: page, numbers }),
        box: (page, [x0, y0, x1, y1]) => this.take("box", { page_number: page, x0, y0, x1, y1 }),
        miss: () => say("There is no word here. Draw a box round what you mean."),
      });
      drawer = new Drawer(this.$root, viewport, {
        change: (path, what) => this.change(path, what, null, true),
        keep: (input) => this.keep(input),
        show: (path) => this.show(path),
        activate: () => this.intoTable(),
        goOn: () => this.goOn(null),
      });
      new ResizeObserver(() => drawer.resized()).observe(paper);
      this.$root.addEventListener("click", (event) => this.clicked(event));
      this.$root.addEventListener("focusin", (event) => this.focused(event));
      this.$root.addEventListener("focusout", (event) => this.left(event.target));
      this.$root.addEventListener("beforeinput", (event) => event.target.dataset.selected && event.preventDefault());
      this.$root.addEventListener("input", ({ target }) => tellUnderstood(this.$root.dataset.document, target));
      window.addEventListener("pagehide", () => this.left(document.activeElement));
      this.$root.addEventListener("load", () => standSoon(viewport), true);
      window.addEventListener("keyup", (event) => {
        if (event.key === " ") picking.space = false;
      });
      this.renew();
      this.goOn(null);
      offerTakeBack();
      this.prefetch();
    },

    // The pages of the next document, so that it is there when this one is done.
    prefetch() {
      document.querySelectorAll(".ahead").forEach((ahead) => {
        new Image().src = `/pages/${ahead.dataset.page}/image?width=${innerWidth > 1500 ? 900 : 600}`;
      });
    },

    cards() {
      return [...document.querySelectorAll("#cards .card")];
    },

    cardOf(key) {
      return key ? document.getElementById(`card-${key}`) : null;
    },

    state() {
      return document.getElementById("cards").dataset;
    },

    // After the cards were drawn anew: mark values on the page, and stand the cards in their places.
    renew() {
      for (const page of viewport.pages) {
        const marks = this.cards().filter((card) => Number(card.dataset.page) === page.number).map(mark);
        page.element.querySelector(".values").replaceChildren(...marks);
      }
      drawer.renew();
      this.arrange();
    },

    // What was typed is kept, wherever one goes.
    left(input) {
      if (!this.drawing && input.dataset.shown !== undefined && changed(input)) this.keep(input);
    },

    keep(input) {
      if (this.state().open !== "yes") return undefined;
      const text = asked(input);
      const card = input.closest(".card");
      const [path, what] = card ? [`${of(card)}/enter`, {}] : drawer.toKeep(input);
      const keep = async () => {
        this.keeping = true;
        await this.change(path, { ...what, text: text.text }, null, true, text);
        this.keeping = false;
        this.catchUp();
      };
      if (!this.busy) return keep();
      return void this.early.push(keep);
    },

    // A cell of the table is at hand, and no card.
    intoTable() {
      picking.begin();
      this.active = null;
      this.cards().forEach((card) => card.classList.remove("active"));
      this.arrange();
    },

    // Show another part of what is there, without changing anything.
    async show(path) {
      if (this.busy) return;
      const text = await ask(this, `/review/${this.$root.dataset.document}/${path}`);
      if (text) this.swap(text);
      this.catchUp();
    },

    arrange() {
      if (viewport) stand(viewport);
    },

    // The card at hand: opened, its value brought into view.
    activate(card, focus = true) {
      if (this.active !== card.dataset.key) picking.begin();
      this.active = card.dataset.key;
      this.cards().forEach((other) => other.classList.toggle("active", other === card));
      for (const page of viewport.pages) {
        page.element.querySelectorAll(".values > *").forEach((frame) =>
          frame.classList.toggle("active", frame.dataset.key === this.active));
      }
      if (focus) card.focus({ preventScroll: true });
      if (card.dataset.box) viewport.glideTo(Number(card.dataset.page), card.dataset.box.split(",").map(Number));
      this.arrange();
    },

    focused(event) {
      const card = event.target.closest?.(".card");
      if (card && card.dataset.key !== this.active) this.activate(card, false);
    },

    // On to the next doubt after this card, or to "done" when none is left.
    goOn(key) {
      const cards = this.cards();
      const at = cards.findIndex((card) => card.dataset.key === key);
      const after = [...cards.slice(at + 1), ...cards.slice(0, at + 1)];
      const next = after.find((card) => card.classList.contains("fails") || card.classList.contains("doubtful"));
      const [keep, ...others] = document.querySelectorAll(".message > [data-act=keep]");
      const failing = this.$root.querySelectorAll(".drawer .row.fails").length;
      if (next) this.activate(next);
      else if (keep && !others.length && failing >= MANY_ROWS && !drawer.tall) {
        keep.focus();
        say(`The same check fails in ${failing} rows: a column may be read wrongly. Press T for the rows, Enter to keep all.`);
      } else if (drawer.firstOpen()) {
        if (!drawer.tall) drawer.toggle();
        else drawer.select(drawer.firstOpen());
      } else {
        if (refused()) return refused().focus();
        if (keep) {
          keep.focus();
          return say("A check over the rows still fails: correct a cell, or press Enter to keep them as printed.");
        }
        const done = document.querySelector("[data-act=done]");
        this.active = key ?? cards[0]?.dataset.key ?? null;
        done?.focus();
        if (done && key) say("Everything is settled: Ctrl+Enter when you are done.");
      }
    },

    clicked(event) {
      if (drawer.clicked(event)) return;
      const button = event.target.closest("[data-act]");
      if (!button) return;
      const card = button.closest(".card");
      const { act, check, number, entry, remember } = button.dataset;
      if (act === "focus") return this.activate(card);
      if (act === "undo") return this.undo();
      if (act === "done") return this.done();
      if (act === "pick") return this.change(`fields/${card.dataset.key}/pick`, { number }, card.dataset.key);
      if (act === "entry") return this.change(`${of(card)}/choose`, { entry, remember }, card.dataset.key);
      if (act === "create") return this.change(`${of(card)}/create`, {}, card.dataset.key);
      if (act === "keep") return this.change("checks/keep", { check }, card?.dataset.key ?? null);
      if (act === "offer") return this.change("checks/offer", { check, number }, card.dataset.key);
    },

    key(event) {
      if (document.querySelector("dialog[open]")) return;
      const ctrl = event.ctrlKey || event.metaKey;
      if (this.busy && (!typing(event) || ["Enter", "Escape"].includes(event.key))) {
        event.preventDefault();
        const { key, altKey } = event;
        this.early.push(() => this.key({ key, altKey, ctrlKey: ctrl, target: document.activeElement, preventDefault() {} }));
        return;
      }
      const card = this.cardOf(this.active);
      if (ctrl && event.key === "Enter") return this.handled(event, () => this.done());
      if (drawer.key(event)) return;
      if (typing(event) && !(ctrl && event.key.toLowerCase() === "z" && !changed(event.target))) return this.keyInInput(event);
      if (ctrl && event.key.toLowerCase() === "z") return this.handled(event, () => this.undo());
      if (ctrl || event.altKey) return;
      const onButton = event.target.matches?.("button:not(.line), a");
      const actions = {
        Enter: () => !onButton && card && this.accept(card),
        Escape: () => (drawer.tall ? drawer.toggle() : card?.focus({ preventScroll: true })),
        ArrowDown: () => this.step(1),
        ArrowUp: () => this.step(-1),
        PageDown: () => viewport.pan(0, -0.8 * viewport.paper.clientHeight),
        PageUp: () => viewport.pan(0, 0.8 * viewport.paper.clientHeight),
        "+": () => viewport.zoom(1.25),
        "=": () => viewport.zoom(1.25),
        "-": () => viewport.zoom(0.8),
        0: () => viewport.fit(),
        e: () => card?.querySelector("input").select(),
        t: () => drawer.drawers().length && drawer.toggle(),
        n: () => document.getElementById("leave").submit(),
      };
      if (event.key === " " && !onButton) {
        picking.space = true;
        event.preventDefault();
      } else if (/^[1-9]$/.test(event.key)) {
        card?.querySelector(`[data-digit="${event.key}"]`)?.click();
      } else if (actions[event.key] && !(event.key === "Enter" && onButton)) {
        this.handled(event, actions[event.key]);
      }
    },

    keyInInput(event) {
      const card = event.target.closest(".card");
      if (!card) return;
      if (event.key === "Enter") this.handled(event, () => this.accept(card));
      if (event.key === "Escape") {
        this.handled(event, () => {
          putBack(event.target);
          card.focus({ preventScroll: true });
        });
      }
    },

    handled(event, action) {
      event.preventDefault();
      action();
    },

    step(by) {
      const cards = this.cards();
      const at = cards.findIndex((card) => card.dataset.key === this.active);
      const next = cards[Math.min(Math.max(at + by, 0), cards.length - 1)];
      if (next) this.activate(next);
    },

    accept(card) {
      const input = card.querySelector("input");
      const key = card.dataset.key;
      if (!input) return;
      if (input.value !== input.dataset.shown) {
        const text = asked(input);
        return this.change(`${of(card)}/enter`, { text: text.text }, key, false, text);
      }
      if (card.classList.contains("settled")) return this.goOn(key);
      return this.change(`${of(card)}/accept`, {}, key).then(() => this.tellFailing(key));
    },

    // Accepting a value settles no check: what else is to be done is said.
    tellFailing(key) {
      const card = this.cardOf(key);
      if (!card?.classList.contains("fails")) return;
      const keep = card.querySelector("[data-act=keep]");
      say(`A check still fails here: correct a value${keep ? `, or press ${keep.dataset.digit} to keep it as printed` : ""}.`);
    },

    take(how, what) {
      if (drawer.cell) return drawer.act(how, what);
      const card = this.cardOf(this.active);
      if (!card || card.dataset.list) return say("Choose the field first, then what it is on the page.");
      return this.change(`fields/${this.active}/${how}`, what, this.active, how === "words");
    },

    undo() {
      const form = document.querySelector("#toast.shown #take-back");
      if (this.state().undo !== "yes" && form) return form.submit();
      return this.change("undo", {}, this.active, true);
    },

    async done() {
      const { activeElement: at } = document;
      if (at?.dataset.shown !== undefined && changed(at)) await this.keep(at);
      const wrong = refused();
      if (wrong) {
        say(`“${wrong.value}” was not taken. Correct it, or press Esc to put back what was there.`);
        return wrong.focus();
      }
      const answer = await this.post("done", { lane: this.$root.dataset.lane });
      if (answer === null) return this.catchUp();
      if (answer.startsWith("{")) {
        const { next, done } = JSON.parse(answer);
        return location.assign(`${next}${next.includes("?") ? "&" : "?"}done=${done}`);
      }
      this.swap(answer);
      this.goOn(null);
      this.catchUp();
    },

    // Ask the server for a change and show what came of it; stays at the card unless that is settled now.
    async change(path, what, key, stay = false, typed = null) {
      if (this.state().open !== "yes") return say("This document cannot be changed now.");
      if (this.busy && this.keeping) return void this.early.push(() => this.change(path, what, key, stay, typed));
      const answer = await this.post(path, what);
      if (answer !== null) {
        this.swap(answer, typed);
        if (drawer.cell || (stay && !key)) {
          if (!drawer.cell && this.cardOf(this.active)) this.activate(this.cardOf(this.active), false);
          return this.catchUp();
        }
        const card = this.cardOf(key);
        const left = card && (stay || this.state().refused === "yes" || !card.classList.contains("settled"));
        if (left) this.activate(card);
        else this.goOn(key);
      }
      this.catchUp();
    },

    // What came too early, one after the other.
    catchUp() {
      while (this.early.length && !this.busy) this.early.shift()();
    },

    // A click too early is dropped; keys, and what was typed, wait their turn.
    async post(path, what) {
      if (this.busy) return null;
      const form = formOf({ version: this.state().version, ...what });
      return ask(this, `/review/${this.$root.dataset.document}/${path}`, form);
    },

    swap(html, typed = null) {
      const fresh = part(html, "cards");
      const back = holding();
      this.drawing = true;
      document.getElementById("cards").replaceWith(fresh);
      if (fresh.dataset.notice) say(fresh.dataset.notice);
      this.renew();
      if (typed && fresh.dataset.refused === "yes") showRefused(typed);
      if (!back()) drawer.back();
      this.drawing = false;
    },
  };
}
