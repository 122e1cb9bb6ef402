// What a document is, or where it begins: answered with one key each.
import { offerTakeBack } from "../shell/afterwards.js";
import { typing } from "../shell/shell.js";

export function question() {
  return {
    init() {
      offerTakeBack();
      for (const mark of this.$root.querySelectorAll("[data-place]")) {
        const [left, top, width, height] = mark.dataset.place.split(" ");
        Object.assign(mark.style, { left: `${left}%`, top: `${top}%`, width: `${width}%`, height: `${height}%` });
      }
      this.pages()[0]?.focus({ preventScroll: true });
      this.pages()[0]?.scrollIntoView({ inline: "center", block: "nearest" });
    },

    pages() {
      return [...this.$root.querySelectorAll(".question-pages .here")];
    },

    key(event) {
      if (typing(event) && event.target.type !== "checkbox") return;
      if (event.ctrlKey || event.metaKey || event.altKey || document.querySelector("dialog[open]")) return;
      const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
      if (step) this.go(step);
      else if (event.key.toLowerCase() === "c") this.page()?.querySelector("[data-cut]")?.click();
      else {
        const asked = this.$root.querySelector(`[data-key="${CSS.escape(event.key.toLowerCase())}"]`);
        if (!asked) return;
        asked.click();
      }
      event.preventDefault();
    },

    page() {
      return document.activeElement?.closest(".question-pages .here") ?? this.pages().find((page) => page.querySelector("[data-cut]"));
    },

    go(step) {
      const pages = this.pages();
      const next = pages[Math.min(Math.max(pages.indexOf(this.page()) + step, 0), pages.length - 1)];
      next?.focus();
      next?.scrollIntoView({ inline: "center", block: "nearest" });
    },
  };
}
