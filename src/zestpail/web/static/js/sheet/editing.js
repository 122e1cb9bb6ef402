// Changing a cell in its place: an input over it, taken by Enter, Tab or by going elsewhere, not by Escape.
export class Editing {
  constructor(grid, take) {
    this.grid = grid;
    this.take = take;
    this.input = null;
  }

  get on() {
    return this.input !== null;
  }

  // Begin with what stands there, or with what was typed instead of it.
  begin(typed = null) {
    const { grid } = this;
    const cell = grid.cellAt(grid.at.row, grid.at.column);
    if (!cell || this.on) return;
    const value = grid.row.cells[grid.column.key];
    const input = document.createElement("input");
    input.className = "editing";
    input.setAttribute("aria-label", `${grid.column.name} of ${grid.row.file}`);
    input.value = typed ?? value?.shown ?? "";
    input.style.left = `${grid.left(grid.at.column)}px`;
    input.style.top = `${cell.parentElement.offsetTop + cell.parentElement.parentElement.offsetTop}px`;
    input.style.width = `${Math.max(grid.column.width, 160)}px`;
    this.before = value?.shown ?? "";
    this.at = { row: grid.row, key: grid.column.key };
    this.input = input;
    input.addEventListener("keydown", (event) => this.key(event));
    input.addEventListener("blur", () => this.end(true, 0, 0, false));
    grid.root.append(input);
    input.focus({ preventScroll: true });
    if (typed === null) input.select();
  }

  key(event) {
    event.stopPropagation();
    const steps = { Enter: [event.shiftKey ? -1 : 1, 0], Tab: [0, event.shiftKey ? -1 : 1] };
    if (event.key === "Escape") this.end(false, 0, 0);
    else if (steps[event.key]) {
      event.preventDefault();
      this.end(true, ...steps[event.key]);
    }
  }

  end(taking, down, right, focus = true) {
    const { input, at, before, grid } = this;
    if (!input) return;
    this.input = null; // taking it away makes it lose the focus: that is no second end
    const text = input.value;
    input.remove();
    if (focus) grid.root.focus({ preventScroll: true });
    if (taking && text !== before) this.take(at.row, at.key, text);
    if (down || right) grid.step(down, right, false);
  }
}
