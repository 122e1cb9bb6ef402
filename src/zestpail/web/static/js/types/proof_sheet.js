// The proof sheet: whole columns and rows confirmed at once; a cell leads to its sample on the bench.
import { say } from "../shell/toast.js";

const WIDE = 158; // pixels that one sample takes, so that the sheet can be scrolled before it is there

export function sheet() {
  return {
    init() {
      const blocks = this.$root.querySelectorAll("div.block");
      if (!blocks.length) return;
      const near = new IntersectionObserver((seen) => seen.filter((one) => one.isIntersecting).forEach((one) => {
        near.unobserve(one.target);
        this.fill(one.target);
      }), { root: this.$root.querySelector(".wall"), rootMargin: "0px 800px" });
      blocks.forEach((block) => {
        block.style.width = `${Number(block.dataset.count) * WIDE}px`;
        near.observe(block);
      });
    },
    // The samples from there on, from the server.
    async fill(block) {
      const address = new URL(location.href);
      address.searchParams.set("start", block.dataset.from);
      const answer = await fetch(address);
      if (!answer.ok) return say("These samples could not be shown; open the sheet again.");
      return block.replaceWith(new DOMParser().parseFromString(await answer.text(), "text/html").querySelector("table"));
    },
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
