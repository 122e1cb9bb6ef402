// The wall: snippets of one field; wrong ones are struck or typed anew, the rest is confirmed together.
import { say } from "../shell/toast.js";
import { Source } from "./source.js";

export function wall() {
  let source;
  return {
    busy: false,

    init() {
      source = new Source("");
      const rows = this.bricks().map(({ dataset }) => ({ id: Number(dataset.document), version: Number(dataset.version), open: true, cells: {} }));
      source.sheet.rows = rows;
      source.byId = new Map(rows.map((row) => [row.id, row]));
      window.addEventListener("keydown", (event) => this.key(event)); // when all are gone, none has the focus
      this.$root.addEventListener("click", (event) => this.clicked(event));
      this.bricks()[0]?.focus();
    },

    bricks() {
      return [...this.$root.querySelectorAll(".brick:not(.gone)")];
    },

    // The one at hand alone is in the order of the Tab key.
    go(brick) {
      if (!brick) return;
      this.bricks().forEach((one) => one.setAttribute("tabindex", one === brick ? 0 : -1));
      brick.focus();
    },

    clicked(event) {
      const act = event.target.closest("[data-act]")?.dataset.act;
      if (act === "undo") return this.undo();
      if (act === "confirm") return this.confirm();
      const brick = event.target.closest(".brick");
      if (!brick || event.target.tagName === "INPUT") return undefined;
      this.go(brick);
      return this.strike(brick);
    },

    key(event) {
      const ctrl = event.ctrlKey || event.metaKey;
      if (ctrl && event.key === "Enter") return this.handled(event, () => this.confirm());
      if (event.target.tagName === "INPUT") return this.keyInInput(event);
      if (ctrl && event.key.toLowerCase() === "z") return this.handled(event, () => this.undo());
      const brick = event.target.closest?.(".brick");
      if (!brick || ctrl || event.altKey) return undefined;
      const all = this.bricks();
      const at = all.indexOf(brick);
      const across = all.findIndex((one) => one.offsetTop > all[0].offsetTop);
      const line = across < 0 ? all.length : across;
      const moves = {
        ArrowRight: () => this.go(all[at + 1]), ArrowLeft: () => this.go(all[at - 1]), ArrowDown: () => this.go(all[at + line]),
        ArrowUp: () => this.go(all[at - line]), Home: () => this.go(all[0]), End: () => this.go(all.at(-1)),
        x: () => this.strike(brick), X: () => this.strike(brick), " ": () => this.strike(brick), Enter: () => this.type(brick), F2: () => this.type(brick),
      };
      return moves[event.key] && this.handled(event, moves[event.key]);
    },

    keyInInput(event) {
      const brick = event.target.closest(".brick");
      if (!brick) return;
      if (event.key === "Enter") this.handled(event, () => this.take(brick, event.target));
      if (event.key === "Escape") this.handled(event, () => this.put(brick));
    },

    handled(event, act) {
      event.preventDefault();
      act();
    },

    // A struck one is left out of what is confirmed, and waits to be typed.
    strike(brick) {
      const struck = brick.classList.toggle("struck");
      brick.setAttribute("aria-label", `${struck ? "struck: " : ""}${brick.getAttribute("aria-label").replace("struck: ", "")}`);
      this.tell();
    },

    type(brick) {
      if (brick.querySelector("input")) return;
      const shown = brick.querySelector(".value");
      const input = document.createElement("input");
      input.value = shown.textContent.trim() === "empty" ? "" : shown.textContent.trim();
      input.setAttribute("aria-label", `What it is, in ${brick.querySelector(".from").textContent.trim()}`);
      input.className = "mono";
      shown.hidden = true;
      shown.after(input);
      input.select();
      this.tell();
    },

    put(brick) {
      brick.querySelector("input")?.remove();
      brick.querySelector(".value").hidden = false;
      this.tell();
      this.go(brick);
    },

    async take(brick, input) {
      const refused = await this.send([[brick, input.value]]);
      if (refused?.length) return input.focus();
      const next = this.bricks()[this.bricks().indexOf(brick) + 1];
      this.put(brick);
      this.leave([brick]);
      this.go(next ?? this.bricks().at(-1));
    },

    // What stands in an open input counts as typed: it is never passed over for what was read.
    async confirm() {
      const all = this.bricks().filter((one) => this.going(one));
      if (!all.length) return say("Everything that is left is struck, or fails a check: type what it is.");
      const refused = await this.send(all.map((brick) => [brick, brick.querySelector("input")?.value ?? null]));
      if (!refused) return undefined;
      const left = new Set(refused.map((one) => one.document));
      const done = all.filter((brick) => !left.has(Number(brick.dataset.document)));
      done.filter((brick) => brick.querySelector("input")).forEach((brick) => this.put(brick));
      this.leave(done);
      if (!left.size) say(`${done.length} confirmed.`);
      return this.go(this.bricks()[0]);
    },

    going(brick) {
      return Boolean(brick.querySelector("input")) || !["struck", "fails"].some((name) => brick.classList.contains(name));
    },

    async undo() {
      if (!source.steps.length) return say("Nothing was changed here that could be undone.");
      const back = new Set(source.steps.at(-1));
      await this.working((tell) => source.undo(tell));
      this.$root.querySelectorAll(".brick.gone").forEach((brick) => back.has(Number(brick.dataset.document)) && brick.classList.remove("gone"));
      this.tell();
      return this.go(this.bricks()[0]);
    },

    send(cells) {
      const { field } = this.$root.dataset;
      return this.working((tell) => source.change(cells.map(([brick, text]) => [source.byId.get(Number(brick.dataset.document)), field, text]), tell));
    },

    // Those that are settled make room.
    leave(bricks) {
      bricks.forEach((brick) => brick.classList.add("gone"));
      this.tell();
    },

    tell() {
      const left = this.bricks().filter((one) => this.going(one)).length;
      const confirm = this.$root.querySelector("[data-act=confirm]");
      confirm.querySelector(".left").textContent = left;
      confirm.disabled = !left;
      this.$root.querySelector("[data-act=undo]").disabled = !source.steps.length;
      this.$root.querySelector(".strip [role=status]").textContent = `${this.bricks().length} left here`;
    },

    async working(act) {
      if (this.busy) return undefined;
      this.busy = true;
      try {
        const refused = await act((done, all) => all > 20 && say(`${done} of ${all} …`));
        if (refused?.length) say(refused.length === 1 ? refused[0].problem : `${refused.length} were left as they are: ${refused[0].problem}`);
        return refused;
      } catch (problem) {
        say(problem.message || "Zest Pail does not answer. Nothing was changed; try again in a moment.");
        return undefined;
      } finally {
        this.busy = false;
        this.tell();
      }
    },
  };
}
