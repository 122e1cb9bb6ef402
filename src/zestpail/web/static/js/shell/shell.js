// Keys that work in every place: "/" to the search box, "?" for the keys of the place one is in.

// Whether keys are text here. A cell that the page went to by itself is only selected: its keys are for the page.
export function typing(event) {
  return event.target.matches?.("input, textarea, select, [contenteditable]") && !event.target.dataset.selected;
}

export function shell() {
  return {
    key(event) {
      if (typing(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "/" && this.$refs.find) {
        event.preventDefault();
        this.$refs.find.focus();
        this.$refs.find.select();
      } else if (event.key === "?") {
        event.preventDefault();
        this.$refs.keys.showModal();
      } else if (event.key.toLowerCase() === "r" && location.pathname === "/") {
        location.assign("/review");
      }
    },
  };
}
