// The batch sheet: all documents of a batch, or all that wait, as a spreadsheet with the keys that such have.
import { say } from "../shell/toast.js";
import { Editing } from "./editing.js";
import { Grid, stateOf } from "./grid.js";
import { shownRows, sumsOf } from "./order.js";
import { Source } from "./source.js";

const LOOK_AFTER = 250; // milliseconds on a cell before it is looked at closely

export function batchSheet() {
  let grid, source, editing, tools, close, paper;
  let looked = 0; // which answer is waited for: of cells that were left meanwhile nothing is shown
  return {
    busy: false,
    sorted: null,

    async init() {
      const root = this.$root;
      tools = root.querySelector(".sheet-tools");
      close = root.querySelector(".sheet-close");
      paper = root.querySelector(".sheet-page");
      source = new Source(root.dataset.rows);
      grid = new Grid(root.querySelector(".sheet-grid"), () => this.moved());
      editing = new Editing(grid, (row, key, text) => this.change([[row, key, text]]));
      grid.root.addEventListener("keydown", (event) => this.key(event));
      grid.root.addEventListener("mousedown", (event) => this.pressed(event));
      grid.root.addEventListener("mouseover", (event) => this.over(event));
      grid.root.addEventListener("dblclick", (event) => event.target.closest("[data-row]") && editing.begin());
      grid.root.addEventListener("copy", (event) => this.copy(event));
      grid.root.addEventListener("paste", (event) => this.paste(event));
      grid.root.addEventListener("focus", () => this.moved());
      grid.root.addEventListener("blur", () => this.hide());
      root.addEventListener("click", (event) => this.clicked(event.target.closest("[data-act], [data-sort]")));
      tools.addEventListener("input", () => this.show());
      tools.addEventListener("submit", (event) => event.preventDefault());
      window.addEventListener("keydown", (event) => this.anywhere(event));
      for (const topic of [root.dataset.topic, "open"]) document.body.addEventListener(`live-${topic}`, () => this.renewSoon());
      await this.load();
      grid.root.focus({ preventScroll: true });
    },

    async load() {
      await this.working(() => source.load());
      const types = Object.entries(source.sheet.types);
      tools.type.replaceChildren(new Option("all types", ""), ...types.map(([key, name]) => new Option(name, key)));
      if (source.sheet.more) say(`Only the first ${source.sheet.rows.length} documents are shown; ${source.sheet.more} more wait.`);
      this.show();
    },

    // What is shown now: of which type, which rows, in which order.
    show() {
      const { type, which, find } = tools;
      const columns = source.sheet.columns.filter((one) => !type.value || one.types.includes(type.value));
      const rows = shownRows(source.sheet.rows, { type: type.value, which: which.value, find: find.value }, this.sorted);
      grid.sorted = this.sorted;
      grid.sums = sumsOf(columns, rows);
      grid.show(columns, rows);
      this.tell();
    },

    // After a change: the same rows in the same order, so that nothing jumps away under the hand.
    redraw() {
      grid.sums = sumsOf(grid.columns, grid.rows);
      grid.draw();
      this.tell();
    },

    tell() {
      const states = source.sheet.rows.map(stateOf);
      const count = (...wanted) => states.filter((state) => wanted.includes(state)).length;
      const finished = count("ready");
      this.$root.querySelector(".counts").textContent =
        `${grid.rows.length} of ${states.length} documents; ${count("doubtful", "fails")} need somebody, ${finished} finished`;
      const settle = this.$root.querySelector("[data-act=settle]");
      settle.disabled = !finished;
      settle.textContent = finished ? `Done with ${finished} finished` : "Done with finished rows";
      this.$root.querySelector("[data-act=undo]").disabled = !source.steps.length;
      const open = this.ofColumn().length;
      const confirm = this.$root.querySelector("[data-act=confirm]");
      confirm.disabled = !open;
      confirm.textContent = open ? `Confirm ${open} of ${grid.column?.name}` : "Confirm column";
    },

    // The doubtful cells of the column at hand that have a value.
    ofColumn() {
      const { key } = grid.column ?? {};
      return grid.rows.filter((row) => row.open && row.cells[key]?.state === "d").map((row) => [row, key, null]);
    },

    moved() {
      this.hide();
      clearTimeout(this.looking);
      this.looking = setTimeout(() => this.look(grid.at.row, grid.at.column), LOOK_AFTER);
      this.showPage();
      this.tell();
    },

    over(event) {
      const cell = event.target.closest("[data-row]");
      clearTimeout(this.looking);
      if (cell) this.looking = setTimeout(() => this.look(Number(cell.dataset.row), Number(cell.dataset.column)), LOOK_AFTER);
    },

    // The snippet of a doubtful cell, and why it is doubtful, beside it; what it lies over is clicked through it.
    async look(rowAt, columnAt) {
      const asked = ++looked;
      const [row, column] = [grid.rows[rowAt], grid.columns[columnAt]];
      const value = column && row?.cells[column.key];
      if (!value || value.state === "s" || editing.on) return this.hide();
      const answer = await fetch(`/sheets/documents/${row.id}/cell?key=${encodeURIComponent(column.key)}`);
      const shown = await answer.text();
      const cell = grid.cellAt(rowAt, columnAt); // as it is drawn by now
      if (!answer.ok || !cell || editing.on || looked !== asked) return;
      close.innerHTML = shown;
      close.hidden = false;
      const box = cell.getBoundingClientRect();
      const under = box.bottom + close.offsetHeight + 6 < window.innerHeight;
      close.style.left = `${Math.min(box.left, window.innerWidth - close.offsetWidth - 8)}px`;
      close.style.top = `${under ? box.bottom + 4 : box.top - close.offsetHeight - 4}px`;
    },

    hide() {
      clearTimeout(this.looking);
      looked++;
      close.hidden = true;
    },

    async showPage() {
      if (paper.hidden || !grid.row) return;
      const asked = `/sheets/documents/${grid.row.id}/page?key=${encodeURIComponent(grid.column.key)}`;
      if (paper.dataset.shown === asked) return;
      paper.dataset.shown = asked;
      const answer = await fetch(asked);
      if (answer.ok && paper.dataset.shown === asked) paper.innerHTML = await answer.text();
    },

    togglePage() {
      paper.hidden = !paper.hidden;
      paper.dataset.shown = "";
      this.$root.querySelector("[data-act=page]").setAttribute("aria-pressed", !paper.hidden);
      this.showPage();
    },

    clicked(button) {
      if (!button) return;
      const { act, sort } = button.dataset;
      if (sort !== undefined) return this.sort(sort);
      const acts = {
        undo: () => this.undo(), page: () => this.togglePage(), settle: () => this.settle(), confirm: () => this.change(this.ofColumn()),
        xlsx: () => this.export("xlsx"), csv: () => this.export("csv"),
      };
      acts[act]?.();
      if (act !== "page") grid.root.focus({ preventScroll: true });
    },

    // Up, down, and as the documents came.
    sort(key) {
      const sheet = grid.columns.find((one) => (one.fixed ?? one.key) === key)?.sheet;
      if (this.sorted?.key !== key) this.sorted = { key, sheet, down: false };
      else this.sorted = this.sorted.down ? null : { key, sheet, down: true };
      this.show();
    },

    pressed(event) {
      const cell = event.target.closest("[data-row]");
      if (!cell || event.target.closest("a, .editing") || event.button) return;
      event.preventDefault();
      grid.root.focus({ preventScroll: true });
      grid.go(Number(cell.dataset.row), Number(cell.dataset.column), event.shiftKey);
      const drag = (move) => {
        const to = move.target.closest?.("[data-row]");
        if (to && move.buttons) grid.go(Number(to.dataset.row), Number(to.dataset.column), true);
      };
      document.addEventListener("mousemove", drag);
      document.addEventListener("mouseup", () => document.removeEventListener("mousemove", drag), { once: true });
    },

    anywhere(event) {
      if (event.key === "F8") {
        event.preventDefault();
        this.togglePage();
      } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "f") {
        event.preventDefault();
        tools.find.select();
      }
    },

    key(event) {
      if (editing.on || !grid.rows.length) return;
      const ctrl = event.ctrlKey || event.metaKey;
      const [rows, columns] = [grid.rows.length, grid.columns.length];
      const { row, column } = grid.at;
      const shift = event.shiftKey;
      const moves = {
        ArrowDown: () => grid.go(ctrl ? rows : row + 1, column, shift), ArrowUp: () => grid.go(ctrl ? 0 : row - 1, column, shift),
        ArrowRight: () => grid.go(row, ctrl ? columns : column + 1, shift), ArrowLeft: () => grid.go(row, ctrl ? 0 : column - 1, shift),
        Home: () => grid.go(ctrl ? 0 : row, 0, shift), End: () => grid.go(ctrl ? rows : row, columns, shift),
        PageDown: () => grid.step(grid.perPage, 0, shift), PageUp: () => grid.step(-grid.perPage, 0, shift),
        F2: () => this.edit(), Enter: () => (ctrl ? this.confirm() : this.edit()), Delete: () => this.fill(() => ""),
        Escape: () => grid.go(row, column),
      };
      const letters = { d: () => this.fillDown(), z: () => this.undo(), a: () => this.all() };
      if (event.key === "Tab") {
        if (shift ? column === 2 : column === columns - 1) return; // out of the grid
        moves.Tab = () => grid.step(0, shift ? -1 : 1, false);
      }
      const act = moves[event.key] ?? (ctrl ? letters[event.key.toLowerCase()] : null);
      if (act) {
        event.preventDefault();
        act();
      } else if (event.key.length === 1 && !ctrl && !event.altKey && !"?".includes(event.key)) {
        event.preventDefault();
        event.stopPropagation();
        this.edit(event.key);
      }
    },

    edit(typed = null) {
      const { row, column } = grid;
      this.hide();
      if (!row.open) return say(row.holder ? `${row.holder} works on this document.` : `This document is ${row.words}; it cannot be changed now.`);
      if (!row.cells[column.key]) return say(`A document of this type has no ${column.name}.`);
      return editing.begin(typed);
    },

    all() {
      grid.go(grid.rows.length, grid.columns.length);
      grid.from = { row: 0, column: 2 };
      grid.draw();
    },

    // What is selected stands as it is.
    confirm() {
      const { rows, columns } = grid.block;
      const cells = rows.flatMap((row) => columns.filter((one) => row.open && row.cells[one.key]?.state === "d").map((one) => [row, one.key, null]));
      if (!cells.length) return say("Nothing that is selected is in doubt.");
      return this.change(cells).then(() => rows.length === 1 && columns.length === 1 && grid.step(1, 0, false));
    },

    // Every selected cell gets what is said for it.
    fill(text) {
      const { rows, columns } = grid.block;
      const cells = rows.flatMap((row, at) => columns.map((one) => [row, one.key, text(row, one, at)]));
      return this.change(cells.filter(([row, key, said]) => said !== undefined && row.cells[key] && row.cells[key].shown !== said));
    },

    fillDown() {
      const { rows } = grid.block;
      if (rows.length === 1) return say("Select the cell and those below it first: Shift and the arrow down.");
      return this.fill((_, column, at) => (at ? rows[0].cells[column.key]?.shown : undefined));
    },

    copy(event) {
      if (editing.on) return;
      event.preventDefault();
      const { rows, columns } = grid.block;
      const text = rows.map((row) => columns.map((one) => row.cells[one.key]?.shown ?? "").join("\t")).join("\n");
      event.clipboardData.setData("text/plain", text);
      say(rows.length * columns.length === 1 ? "Copied." : `${rows.length} rows of ${columns.length} copied.`);
    },

    // A block goes in from the cell at hand on; a single value fills what is selected.
    paste(event) {
      if (editing.on) return;
      event.preventDefault();
      const block = event.clipboardData.getData("text/plain").replace(/\r?\n$/, "").split(/\r?\n/).map((line) => line.split("\t"));
      const { top, left } = grid.block;
      if (block.length === 1 && block[0].length === 1) return this.fill(() => block[0][0]);
      const cells = block.flatMap((line, down) => line.map((text, right) => [grid.rows[top + down], grid.columns[left + right]?.key, text]));
      const fitting = cells.filter(([row, key, text]) => row?.cells[key] && row.cells[key].shown !== text);
      if (fitting.length < cells.length) say(`${cells.length - fitting.length} of ${cells.length} cells are as they were, or have no place here.`);
      return this.change(fitting);
    },

    async change(cells) {
      const open = cells.filter(([row]) => row.open);
      if (open.length < cells.length) say(`${cells.length - open.length} cells are of documents that cannot be changed now.`);
      if (open.length) await this.working((tell) => source.change(open, tell), "changed");
    },

    async undo() {
      const refused = await this.working((tell) => source.undo(tell), "undone");
      if (refused === null) say("Nothing was changed here that could be undone.");
    },

    settle() {
      return this.working((tell) => source.settle(source.sheet.rows.filter((row) => stateOf(row) === "ready"), tell), "done");
    },

    export(form) {
      return this.working(() => source.export(grid.rows, grid.columns.filter((one) => one.key), form));
    },

    // Do it, tell how far it is, and what was refused.
    async working(act, word = "") {
      if (this.busy) {
        say("The last change is still being made.");
        return undefined;
      }
      this.busy = true;
      this.$root.classList.add("busy");
      try {
        const refused = await act((done, all) => all > 20 && say(`${done} of ${all} documents ${word} …`));
        if (word) this.redraw();
        if (refused?.length) say(refused.length === 1 ? refused[0].problem : `${refused.length} cells were left as they are: ${refused[0].problem}`);
        return refused;
      } catch (problem) {
        say(problem.message || "Zest Pail does not answer. Nothing was changed; try again in a moment.");
        return undefined;
      } finally {
        this.busy = false;
        this.$root.classList.remove("busy");
      }
    },

    renewSoon() {
      if (this.renewing) return;
      this.renewing = setTimeout(async () => {
        this.renewing = null;
        if (this.busy || !source.byId) return void this.renewSoon();
        const { came, changed } = await source.renew().catch(() => ({}));
        if (editing.on) return;
        if (came) this.show();
        else if (changed) this.redraw();
      }, 400);
    },
  };
}
