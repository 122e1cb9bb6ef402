// The proof sheet: whole columns and rows confirmed at once; a cell leads to its sample on the bench.
import { say } from "./toast.js";

export function sheet() {
  return {
    async confirm(event) {
      const button = event.target.closest("[data-cells]");
      if (!button || !button.dataset.cells) return;
      const body = new FormData();
      button.dataset.cells.trim().split(" ").forEach((cell) => body.append("cells", cell));
      const answer = await fetch(`/types/${this.$root.dataset.key}/confirm`, { method: "POST", body });
      if (answer.ok) location.reload();
      else say(await answer.text());
    },
    key(event) {
      if (event.target.matches("input, select, textarea") || event.ctrlKey || event.metaKey) return;
      if (event.key.toLowerCase() === "p") document.getElementById("to-bench").click();
      if (event.key.toLowerCase() === "s") document.getElementById("to-sorted").click();
    },
  };
}
