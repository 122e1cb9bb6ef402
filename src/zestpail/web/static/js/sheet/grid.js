// The cells of the batch sheet: only the rows that can be seen are there, however many there are.
// Knows what is shown, which cell is at hand and which block is selected; changes nothing.
const ROW = 28;
const BEYOND = 8; // rows above and below the window, so that a quick wheel finds something
const [NARROW, WIDE] = [84, 300];
const [OF_VALUE, OF_NAME, AROUND] = [8, 7, 38]; // pixels of a character, and of what stands round a value
const FIXED = [
  { key: "", name: "State", width: 34, fixed: "state" },
  { key: "", name: "Document", width: 176, fixed: "file" },
];
const STATES = { s: "settled", d: "needs you", f: "fails a check" };

export class Grid {
  constructor(root, onMove) {
    this.root = root;
    this.onMove = onMove;
    this.columns = [];
    this.rows = [];
    this.at = { row: 0, column: FIXED.length };
    this.from = null; // the other corner of the selected block
    root.addEventListener("scroll", () => this.soon());
    new ResizeObserver(() => this.soon()).observe(root);
  }

  // Other rows or columns; the cell at hand stays with its document where that is still there.
  show(columns, rows) {
    const document_ = this.rows[this.at.row]?.id;
    const key = this.columns[this.at.column]?.key;
    this.columns = [...FIXED, ...columns.map((one) => ({ ...one, width: widthOf(one, rows) }))];
    this.rows = rows;
    const row = Math.max(rows.findIndex((one) => one.id === document_), 0);
    const column = Math.max(this.columns.findIndex((one) => one.key === key), FIXED.length);
    this.at = { row, column: Math.min(column, this.columns.length - 1) };
    this.from = null;
    this.draw();
  }

  get row() {
    return this.rows[this.at.row];
  }

  get column() {
    return this.columns[this.at.column];
  }

  // The selected block as rows and columns; of one cell where no block is selected.
  get block() {
    const other = this.from ?? this.at;
    const [top, bottom] = [this.at.row, other.row].sort((a, b) => a - b);
    const [left, right] = [this.at.column, other.column].sort((a, b) => a - b);
    return {
      top, left, rows: this.rows.slice(top, bottom + 1),
      columns: this.columns.slice(Math.max(left, FIXED.length), right + 1),
    };
  }

  go(row, column, extending = false) {
    const to = {
      row: Math.min(Math.max(row, 0), this.rows.length - 1),
      column: Math.min(Math.max(column, FIXED.length), this.columns.length - 1),
    };
    this.from = extending ? this.from ?? this.at : null;
    this.at = to;
    this.reveal();
    this.draw();
    this.onMove();
  }

  step(down, right, extending) {
    this.go(this.at.row + down, this.at.column + right, extending);
  }

  get perPage() {
    return Math.max(Math.floor((this.root.clientHeight - 2 * ROW) / ROW) - 1, 1);
  }

  // The cell at hand into the window, not under what is fixed.
  reveal() {
    const { root } = this;
    const y = this.at.row * ROW;
    const bottom = root.clientHeight - 3 * ROW;
    if (y < root.scrollTop) root.scrollTop = y;
    else if (y > root.scrollTop + bottom) root.scrollTop = y - bottom;
    const x = this.left(this.at.column);
    const fixed = this.left(FIXED.length);
    if (x - fixed < root.scrollLeft) root.scrollLeft = x - fixed;
    else if (x + this.column.width > root.scrollLeft + root.clientWidth) root.scrollLeft = x + this.column.width - root.clientWidth;
  }

  left(column) {
    return this.columns.slice(0, column).reduce((sum, one) => sum + one.width, 0);
  }

  soon() {
    this.drawing ??= requestAnimationFrame(() => this.body && this.drawRows());
  }

  // The columns in the window, with one more at either side.
  window() {
    const { scrollLeft, clientWidth } = this.root;
    const [left, right] = [scrollLeft + this.left(FIXED.length), scrollLeft + clientWidth];
    let x = 0;
    const seen = this.columns.map((column) => {
      x += column.width;
      return x > left - 120 && x - column.width < right + 120;
    });
    const first = Math.max(seen.indexOf(true, FIXED.length), FIXED.length);
    return { first, last: Math.max(seen.lastIndexOf(true), first) };
  }

  // The cells of the columns in the window, with what keeps the place of the others before them.
  cells(line, drawn) {
    const { first, last } = this.seen;
    this.columns.forEach((column, at) => {
      if (at >= FIXED.length && (at < first || at > last)) return;
      if (at === first && first > FIXED.length) {
        const room = element("span", "room");
        room.style.width = `${this.left(first) - this.left(FIXED.length)}px`;
        line.append(room);
      }
      const cell = drawn(column, at);
      cell.setAttribute("aria-colindex", at + 1);
      this.place(cell, at);
      line.append(cell);
    });
  }

  // Everything anew: other values, another selection.
  draw() {
    this.lines = new Map();
    this.seen = this.window();
    this.body = element("div", "sheet-rows", { role: "rowgroup" });
    const width = this.left(this.columns.length);
    this.body.style.height = `${this.rows.length * ROW}px`;
    this.body.style.width = `${width}px`;
    this.root.setAttribute("aria-rowcount", this.rows.length + 1);
    this.root.setAttribute("aria-colcount", this.columns.length);
    const editing = this.root.querySelector(".editing");
    this.root.replaceChildren(this.drawHead(width), this.body, this.drawFoot(width), ...(editing ? [editing] : []));
    this.drawRows();
    if (this.rows.length) this.root.setAttribute("aria-activedescendant", this.idOf(this.at.row, this.at.column));
    else this.root.removeAttribute("aria-activedescendant");
  }

  // The rows that came into the window; those that left it go.
  drawRows() {
    cancelAnimationFrame(this.drawing);
    this.drawing = null;
    const { first: from, last: to } = this.window();
    if (from !== this.seen.first || to !== this.seen.last) return void this.draw();
    const first = Math.max(Math.floor(this.root.scrollTop / ROW) - BEYOND, 0);
    const last = Math.min(first + this.perPage + 2 * BEYOND + 3, this.rows.length);
    for (const [at, line] of this.lines) {
      if (at >= first && at < last) continue;
      line.remove();
      this.lines.delete(at);
    }
    for (let at = first; at < last; at += 1) {
      if (this.lines.has(at)) continue;
      const line = this.drawRow(at);
      this.lines.set(at, line);
      this.body.append(line);
    }
  }

  idOf(row, column) {
    return `cell-${this.rows[row]?.id}-${column}`;
  }

  drawHead(width) {
    const group = element("div", "sheet-head", { role: "rowgroup" });
    const head = element("div", "sheet-row", { role: "row", "aria-rowindex": 1 });
    head.style.width = `${width}px`;
    this.cells(head, (column) => {
      const sorted = this.sorted?.key === (column.fixed ?? column.key) ? this.sorted.down : null;
      const cell = element("div", `sheet-cell ${column.fixed ?? ""}`, {
        role: "columnheader", "data-sort": column.fixed ?? column.key,
        "aria-sort": sorted === null ? "none" : sorted ? "descending" : "ascending",
      });
      const name = element("span", column.fixed === "state" ? "unseen" : "");
      name.textContent = `${column.name}${sorted === null ? "" : sorted ? " ↓" : " ↑"}`;
      cell.append(name);
      cell.title = column.name;
      return cell;
    });
    group.append(head);
    return group;
  }

  drawFoot(width) {
    const group = element("div", "sheet-foot", { role: "rowgroup" });
    const foot = element("div", "sheet-row", { role: "row" });
    foot.style.width = `${width}px`;
    this.cells(foot, (column) => {
      const cell = element("div", `sheet-cell ${column.fixed ?? ""} ${column.sheet === "money" ? "figure" : ""}`, { role: "gridcell" });
      cell.textContent = column.fixed === "file" ? `${this.rows.length} rows` : this.sums?.[column.key] ?? "";
      cell.title = cell.textContent;
      return cell;
    });
    group.append(foot);
    return group;
  }

  drawRow(at) {
    const row = this.rows[at];
    const line = element("div", `sheet-row${row.open ? "" : " closed"}`, { role: "row", "aria-rowindex": at + 2 });
    line.style.top = `${at * ROW}px`;
    const { top, rows, left, columns } = this.block;
    this.cells(line, (column, number) => {
      const chosen = at >= top && at < top + rows.length && number >= left && number < left + columns.length;
      const cell = column.fixed ? this.drawFixed(row, column) : this.drawCell(row, column);
      cell.id = `cell-${row.id}-${number}`;
      cell.setAttribute("aria-selected", chosen);
      cell.classList.toggle("chosen", chosen);
      cell.classList.toggle("here", at === this.at.row && number === this.at.column);
      cell.dataset.row = at;
      cell.dataset.column = number;
      return cell;
    });
    return line;
  }

  drawFixed(row, column) {
    const cell = element("div", `sheet-cell ${column.fixed}`, { role: column.fixed === "file" ? "rowheader" : "gridcell" });
    const state = stateOf(row);
    if (column.fixed === "state") {
      const mark = element("span", `shape ${state}`);
      cell.append(mark);
      cell.setAttribute("aria-label", row.holder ? `${row.holder} works on it` : row.words);
      cell.title = row.holder ? `${row.holder} works on it` : row.problem || row.words;
    } else {
      const link = element("a", "", { href: `/review/${row.id}`, tabindex: -1 });
      link.textContent = row.file;
      cell.append(link);
      cell.title = `${row.file}, ${row.words}${row.holder ? `; ${row.holder} works on it` : ""}`;
    }
    return cell;
  }

  drawCell(row, column) {
    const value = row.cells[column.key];
    const figure = column.sheet === "money" || column.sheet === "number" ? " figure" : "";
    const cell = element("div", `sheet-cell${figure} ${value ? STATES[value.state].split(" ")[0] : "none"}`, { role: "gridcell" });
    const text = element("span", "text");
    text.textContent = value?.shown ?? "";
    cell.append(text);
    if (value && value.state !== "s") {
      cell.append(element("span", `shape ${value.state === "f" ? "fails" : "doubtful"}`));
      cell.setAttribute("aria-label", `${column.name}: ${value.shown || "empty"}, ${STATES[value.state]}`);
    }
    if (!value && !column.types.includes(row.type)) cell.classList.add("not-its");
    return cell;
  }

  place(cell, column) {
    cell.style.width = `${this.columns[column].width}px`;
    if (this.columns[column].fixed) cell.style.left = `${this.left(column)}px`;
  }

  // The element of a cell, if its row is in the window.
  cellAt(row, column) {
    return document.getElementById(this.idOf(row, column));
  }
}

// As wide as what stands in it, within limits.
function widthOf(column, rows) {
  const longest = rows.reduce((most, row) => Math.max(most, row.cells[column.key]?.shown.length ?? 0), 0);
  const wanted = Math.max(longest * OF_VALUE, column.name.length * OF_NAME) + AROUND;
  return Math.min(Math.max(wanted, NARROW), WIDE);
}

// What a row is, by its worst cell.
export function stateOf(row) {
  if (!row.open) return row.holder ? "held" : "settled";
  const states = Object.values(row.cells).map((cell) => cell.state);
  if (row.problem || states.includes("f")) return "fails";
  return states.includes("d") ? "doubtful" : "ready";
}

function element(tag, className, attributes = {}) {
  const made = document.createElement(tag);
  made.className = className;
  for (const [name, value] of Object.entries(attributes)) made.setAttribute(name, value);
  return made;
}
