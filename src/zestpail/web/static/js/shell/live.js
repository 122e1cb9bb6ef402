// What changed elsewhere comes as server-sent events and goes out as DOM events: "batch 12" as "live-batch-12".
// What happened while nobody listened (before the first connection, after a lost one, in a hidden tab) was not heard:
// each connection goes out as "live-open", on which every part that is kept current asks anew.
// A hidden tab listens to nothing: browsers allow few connections to one place.
// A connection that is refused is tried again, and the status line says meanwhile that what is shown may be old.
const AGAIN = 3000;

export function listen() {
  let source = null;
  let again = 0;
  const tell = (topic) =>
    document.body.dispatchEvent(new CustomEvent(`live-${topic.replaceAll(" ", "-")}`));
  const open = () => {
    if (source) return;
    source = new EventSource("/live");
    source.onmessage = (event) => tell(event.data);
    source.onopen = () => {
      document.body.dataset.live = "yes";
      tell("open");
    };
    source.onerror = () => {
      document.body.dataset.live = "no";
      if (source?.readyState !== EventSource.CLOSED) return; // the browser tries it again by itself
      source = null;
      again = setTimeout(open, AGAIN);
    };
  };
  const close = () => {
    clearTimeout(again);
    source?.close();
    source = null;
    delete document.body.dataset.live;
  };
  document.addEventListener("visibilitychange", () => {
    if (document.hidden) close();
    else open();
  });
  window.addEventListener("pagehide", close);
  window.addEventListener("pageshow", open); // a page that comes back as it was left, too
  open();
}
