// Tying values to columns: by pressing one and then the other, by drawing, or by keys; the server says what is tied.

// The dialog's fields as what goes into the column now.
function fill(form, tie, inRows) {
  const { source, written, always, pattern, otherwise, entries } = form.elements;
  source.value = tie.source;
  written.value = tie.written ?? "as_it_is";
  always.value = tie.always ?? "";
  pattern.value = tie.pattern ?? "";
  otherwise.value = tie.otherwise ?? "";
  entries.value = (tie.entries ?? []).map((pair) => pair.join(" = ")).join("\n");
  for (const choice of [form.elements.ours, form.elements.looked]) {
    const own = [...choice.options].find((one) => (inRows ? one.value.endsWith(`/${tie.key}`) : one.value === tie.key));
    if (own) choice.value = own.value;
  }
}

export function mapping() {
  return {
    taken: null,
    init() {
      this.lines();
      addEventListener("resize", () => this.lines());
      addEventListener("scroll", () => this.lines(), true); // our values stay in sight while their columns scroll
      // Somebody else may tie columns of the same lane meanwhile: they come in by themselves.
      new MutationObserver(() => this.lines()).observe(this.$root.querySelector(".theirs"), {
        subtree: true, childList: true, attributeFilter: ["data-from"],
      });
      this.$root.addEventListener("click", (event) => this.pressed(event.target.closest(".end")));
      this.$root.addEventListener("keydown", (event) => this.key(event));
      this.$root.addEventListener("pointerdown", (event) => this.begin(event));
      document.addEventListener("click", (event) => this.ask(event.target.closest("[data-how]")));
      const kept = sessionStorage.getItem("mapping column");
      sessionStorage.removeItem("mapping column");
      if (kept) this.$root.querySelector(`[data-column="${CSS.escape(kept)}"]`)?.focus();
    },
    pressed(end) {
      if (end?.dataset.ours) this.take(end);
      else if (end && this.taken) this.tie(this.taken.dataset.ours, end.dataset.column);
    },
    take(end) {
      this.taken?.setAttribute("aria-pressed", "false");
      this.taken = this.taken === end ? null : end;
      this.taken?.setAttribute("aria-pressed", "true");
    },
    tie(ours, column) {
      sessionStorage.setItem("mapping column", column);
      this.$root.elements.ours.value = ours;
      this.$root.elements.column.value = column;
      this.$root.requestSubmit();
    },
    key(event) {
      const end = event.target.closest(".end");
      const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
      if (end && step) {
        const list = [...end.closest("ul").querySelectorAll(".end")];
        list[(list.indexOf(end) + step + list.length) % list.length].focus();
        event.preventDefault();
      } else if (end && (event.key === "ArrowRight" || event.key === "ArrowLeft")) {
        this.$root.querySelector(event.key === "ArrowRight" ? ".theirs .end" : ".ours .end").focus();
        event.preventDefault();
      } else if (end?.dataset.column && event.key === "Delete") {
        sessionStorage.setItem("mapping column", end.dataset.column);
        this.$root.elements.column.value = end.dataset.column;
        this.$root.action += "/remove";
        this.$root.requestSubmit();
      } else if (event.key === "Escape" && this.taken) this.take(this.taken);
    },
    begin(event) {
      const from = event.target.closest("[data-ours]");
      if (!from) return;
      const start = this.place(from, "right");
      const move = (at) => {
        const box = this.$root.getBoundingClientRect();
        this.lines([start, { x: at.clientX - box.left, y: at.clientY - box.top }]);
      };
      const drop = (at) => {
        removeEventListener("pointermove", move);
        this.lines();
        const column = document.elementFromPoint(at.clientX, at.clientY)?.closest("[data-column]");
        if (column) this.tie(from.dataset.ours, column.dataset.column);
      };
      addEventListener("pointermove", move);
      addEventListener("pointerup", drop, { once: true });
    },
    place(end, side) {
      const box = this.$root.getBoundingClientRect();
      const own = end.getBoundingClientRect();
      return { x: own[side] - box.left, y: own.top + own.height / 2 - box.top };
    },
    lines(drawn = null) {
      const pairs = drawn ? [drawn] : [];
      for (const column of this.$root.querySelectorAll("[data-from]")) {
        const table = column.dataset.column.includes("/");
        for (const key of column.dataset.from.split(" ").filter(Boolean)) {
          const ours = [...this.$root.querySelectorAll("[data-ours]")].find((one) =>
            table ? one.dataset.ours.endsWith(`/${key}`) : one.dataset.ours === key);
          if (ours) pairs.push([this.place(ours, "right"), this.place(column, "left")]);
        }
      }
      this.$root.querySelector(".threads").innerHTML = pairs.map(([a, b]) =>
        `<path d="M${a.x} ${a.y}C${a.x + 60} ${a.y} ${b.x - 60} ${b.y} ${b.x} ${b.y}"/>`).join("");
    },
    // The dialog of a column knows which one it is for.
    ask(opener) {
      if (!opener) return;
      const form = document.querySelector("#how form");
      form.reset();
      form.elements.column.value = opener.dataset.how;
      form.querySelector("h2").textContent = `What goes into ${opener.dataset.name}`;
      if (opener.dataset.tie) fill(form, JSON.parse(opener.dataset.tie), opener.dataset.how.includes("/"));
      form.elements.source.dispatchEvent(new Event("change"));
    },
  };
}
