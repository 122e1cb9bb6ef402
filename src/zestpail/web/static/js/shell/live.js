// What changed elsewhere comes as server-sent events and goes out as DOM events: "batch 12" as "live-batch-12".
// A hidden tab listens to nothing: browsers allow few connections to one place. When it comes back it asks anew.

const ALWAYS = ["today"];

export function listen() {
  let source = null;
  const tell = (topic) =>
    document.body.dispatchEvent(new CustomEvent(`live-${topic.replaceAll(" ", "-")}`));
  const everything = () => {
    ALWAYS.forEach(tell);
    document.querySelectorAll("[hx-trigger^='live-batch']").forEach((part) =>
      tell(part.getAttribute("hx-trigger").split(" ")[0].slice("live-".length)));
  };
  const open = () => {
    if (source) return;
    let before = false;
    source = new EventSource("/live");
    source.onmessage = (event) => tell(event.data);
    source.onopen = () => {
      if (before) everything();
      before = true;
      document.body.dataset.live = "yes";
      tell("open"); // what happened between drawing the page and listening was not heard
    };
  };
  const close = () => {
    source?.close();
    source = null;
    delete document.body.dataset.live;
  };
  document.addEventListener("visibilitychange", () => {
    if (document.hidden) close();
    else {
      open();
      everything();
    }
  });
  window.addEventListener("pagehide", close);
  open();
}
