// The table drawer: rows under the strips that they were read from, cell by cell with the keyboard, and the column
// dividers on the page. What a gesture does to the rows is decided by the server.
import { frameRow, hideDividers, showDividers } from "../page/dividers.js";
import { say } from "../shell/toast.js";
import { changed, putBack } from "./typed.js";

const ROW_KEYS = { a: "add", x: "delete", s: "split", j: "join", ArrowLeft: "left", ArrowRight: "right" };
const NUMBERS = 46; // pixels of the rows' numbers, and of a column that has no place of its own on the page
const UNPLACED = 60;

export class Drawer {
  constructor(root, viewport, actions) {
    this.root = root;
    this.viewport = viewport;
    this.actions = actions; // change(path, what): posts and draws anew; keep(input): what was typed; activate; goOn
    this.tall = false;
    this.cell = null; // table, row and column of the cell at hand
    root.addEventListener("focusin", (event) => this.focused(event));
    root.addEventListener("pointerdown", (event) => {
      if (event.target.closest?.("[data-row-act]")) event.preventDefault(); // the cell keeps the focus
      delete event.target.dataset?.selected; // a click begins to type
    });
  }

  drawers() {
    return [...this.root.querySelectorAll(".drawer")];
  }

  inputs() {
    return [...this.root.querySelectorAll(".drawer input[data-column]")];
  }

  input() {
    if (!this.cell) return null;
    const { row, column } = this.cell;
    return this.root.querySelector(`.drawer [data-row="${row}"] input[data-column="${column}"]`);
  }

  // After everything was drawn anew: the drawer as tall as it was, the dividers on the page.
  renew() {
    this.root.classList.toggle("tall", this.tall);
    this.root.querySelectorAll("[data-act=tall]").forEach((button) => button.setAttribute("aria-expanded", this.tall));
    this.drawers().forEach((drawer) => this.widen(drawer));
    this.showDividers();
  }

  // The same cell is at hand again; the first one where it has gone.
  back() {
    if (this.cell) this.select(this.input() ?? this.inputs()[0]);
  }

  // The page itself goes to a cell: keys are still for the desk, until the person begins to type with E, F2 or a click.
  select(input) {
    if (!input) return;
    input.dataset.selected = "yes";
    input.focus({ preventScroll: false });
  }

  // Cells as wide as their columns on the strip above them, so that each stands under what it was read from.
  widen(drawer) {
    const heads = [...drawer.querySelectorAll("thead th[data-share]")];
    const placed = heads.some((head) => Number(head.dataset.share));
    drawer.querySelector("table").classList.toggle("placed", placed);
    const unplaced = heads.filter((head) => !Number(head.dataset.share)).length;
    const room = drawer.querySelector(".rows").clientWidth - NUMBERS - unplaced * UNPLACED;
    heads.forEach((head) => {
      const share = Number(head.dataset.share);
      head.style.width = placed ? `${share ? room * share : UNPLACED}px` : "";
    });
  }

  toggle() {
    this.tall = !this.tall;
    if (!this.tall && this.input() === document.activeElement) document.activeElement?.blur();
    this.renew();
    if (this.tall) this.viewport.fitWidth();
    else this.viewport.fit();
    if (this.tall) this.select(this.firstOpen() ?? this.inputs()[0]);
    else this.leave();
  }

  leave() {
    this.cell = null;
    this.mark(null);
  }

  firstOpen() {
    const row = this.root.querySelector(".drawer .row.doubtful, .drawer .row.fails");
    return row?.querySelector("input.doubted") ?? row?.querySelector("input") ?? null;
  }

  focused(event) {
    const input = event.target.closest?.(".drawer input[data-column]");
    if (this.selected && this.selected !== input) delete this.selected.dataset.selected;
    this.selected = input;
    if (!input) {
      if (event.target.closest?.(".card")) this.leave();
      return;
    }
    const row = input.closest(".row");
    this.cell = {
      table: input.closest(".drawer").dataset.table,
      first: input.closest(".drawer").dataset.first,
      row: row.dataset.row,
      column: input.dataset.column,
    };
    this.actions.activate();
    this.mark(row);
    this.showWhole(input);
    this.bringIntoView(input);
  }

  // A text that is longer than its cell lies over what is beside it while it is at hand.
  showWhole(input) {
    this.wide?.style.removeProperty("width");
    this.wide = input;
    input.scrollLeft = 0;
    const room = input.closest("table").getBoundingClientRect().right - input.getBoundingClientRect().left;
    if (input.scrollWidth > input.clientWidth) input.style.width = `${Math.min(input.scrollWidth + 12, room)}px`;
  }

  // The cell on the page, or its row.
  bringIntoView(input) {
    const row = input.closest(".row");
    const place = input.dataset.box ? input : row.dataset.box ? row : null;
    if (place) this.viewport.glideTo(Number(place.dataset.page), place.dataset.box.split(",").map(Number));
  }

  // The paper has another size: fitted anew, with the cell at hand in view.
  resized() {
    if (this.tall) this.viewport.fitWidth();
    else this.viewport.fit();
    const input = document.activeElement?.closest(".drawer input[data-column]");
    if (input) this.bringIntoView(input);
  }

  // Where a cell's text is kept, and with what.
  toKeep(input) {
    const { table, first } = input.closest(".drawer").dataset;
    return [`rows/${input.closest(".row").dataset.row}/cells/${input.dataset.column}`, { how: "enter", table, first }];
  }

  mark(row) {
    frameRow(this.viewport, Number(row?.dataset.page), row?.dataset.box);
  }

  act(how, what = {}) {
    if (!this.cell) return say("Choose a row first: click into one of its cells.");
    const { table, first, row, column } = this.cell;
    if (how === "delete") this.cell = { ...this.cell, row: this.besideRow(row) };
    return this.actions.change(`rows/${row}/cells/${column}`, { how, table, first, ...what });
  }

  besideRow(row) {
    const rows = [...this.root.querySelectorAll(".drawer .row")];
    const at = rows.findIndex((one) => one.dataset.row === row);
    return (rows[at + 1] ?? rows[at - 1])?.dataset.row ?? row;
  }

  clicked(event) {
    const button = event.target.closest("button");
    if (!button) return false;
    if (button.dataset.rowAct) this.act(button.dataset.rowAct);
    else if (button.dataset.act === "tall") this.toggle();
    else if (button.dataset.act === "window") this.window(button.closest(".drawer").dataset.table, button.dataset.first);
    else if (button.dataset.act === "first-row") {
      this.actions.change(`tables/${button.closest(".drawer").dataset.table}/add`, {});
    } else return false;
    return true;
  }

  window(table, first) {
    this.cell = null;
    this.actions.show(`tables/${table}?first=${first}`);
  }

  // Keys in a cell; answers whether the key was for the drawer.
  key(event) {
    const input = event.target.closest?.(".drawer input[data-column]");
    if (!input) return false;
    const ctrl = event.ctrlKey || event.metaKey;
    const letter = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    if (event.altKey && ROW_KEYS[letter]) this.saved(input, () => this.act(ROW_KEYS[letter]));
    else if (ctrl && letter === "d") this.saved(input, () => this.act("fill down"));
    else if (event.key === "Enter" && !ctrl) this.enter(input);
    else if (event.key === "ArrowDown" || event.key === "ArrowUp") this.step(input, event.key === "ArrowDown" ? 1 : -1);
    else if (event.key === "F2" || (letter === "e" && input.dataset.selected && !ctrl)) this.type(input);
    else if (event.key === "Escape") this.escape(input);
    else return false;
    event.preventDefault();
    return true;
  }

  type(input) {
    delete input.dataset.selected;
    input.select();
  }

  // What was typed counts before a gesture on the row does.
  async saved(input, then) {
    if (changed(input)) await this.actions.keep(input);
    then();
  }

  async enter(input) {
    const open = input.closest(".row").classList.contains("settled") === false;
    if (input.value !== input.dataset.shown) await this.actions.keep(input);
    else if (open) await this.act("accept");
    const here = this.input();
    if (here && here.closest(".row").classList.contains("settled") && here.value === here.dataset.shown) {
      const next = this.nextOpen(here) ?? (open ? this.firstOpen() : null);
      if (next) this.select(next);
      else if (open) this.goOn();
      else this.step(here, 1);
    }
  }

  // The last row that was asked for is settled: on to what else the document needs.
  goOn() {
    this.leave();
    this.actions.goOn();
  }

  nextOpen(input) {
    const rows = [...this.root.querySelectorAll(".drawer .row")];
    const after = rows.slice(rows.indexOf(input.closest(".row")) + 1);
    const row = after.find((one) => !one.classList.contains("settled"));
    return row?.querySelector("input.doubted") ?? row?.querySelector("input") ?? null;
  }

  step(input, by) {
    const column = this.inputs().filter((one) => one.dataset.column === input.dataset.column);
    const next = column[column.indexOf(input) + by];
    if (input.dataset.selected) this.select(next);
    else next?.focus();
  }

  // Leaves what was typed, then the cell, then the table; nothing else.
  escape(input) {
    if (input.value !== input.dataset.shown) putBack(input);
    else if (!input.dataset.selected) input.dataset.selected = "yes";
    else if (this.tall) this.toggle();
    else {
      input.blur();
      this.leave();
    }
  }

  showDividers() {
    hideDividers(this.viewport);
    if (!this.tall) return;
    for (const drawer of this.drawers()) {
      showDividers(this.viewport, drawer.querySelector(".divider-places"), { moved: (what) => {
        this.cell = null;
        this.actions.change(`tables/${drawer.dataset.table}/divider`, what);
      } });
    }
  }
}
