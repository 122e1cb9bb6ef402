// After "done", or after it was said what a document is: for a few seconds that can be taken back.

const LONG = 5000;

export function offerTakeBack() {
  const asked = new URLSearchParams(location.search);
  const sorted = asked.get("sorted");
  const done = sorted ?? asked.get("done");
  const toast = document.getElementById("toast");
  const form = document.getElementById("take-back");
  if (!done || !/^\d+$/.test(done)) return;
  const left = new URLSearchParams(location.search);
  left.delete("done");
  left.delete("sorted");
  history.replaceState(null, "", location.pathname + (left.size ? `?${left}` : ""));
  form.action = sorted ? `/review/${sorted}/sort/again` : `/review/${done}/back`;
  toast.textContent = sorted ? "Sorted. Its values are being found. " : "Done. It is delivered in a few seconds. ";
  form.hidden = false;
  toast.append(form);
  toast.classList.add("shown");
  setTimeout(() => {
    toast.classList.remove("shown");
    form.remove();
    toast.textContent = "";
  }, LONG);
}

// With nothing left to review: takes back what was just done, and goes on when something new asks for a person.
export function afterwards() {
  return {
    init() {
      offerTakeBack();
      const goOn = async () => {
        const lane = new URLSearchParams(location.search).get("lane");
        const queue = lane ? `/review?lane=${encodeURIComponent(lane)}` : "/review"; // who reviews one lane stays in it
        const answer = await fetch(queue, { redirect: "manual" });
        if (answer.type === "opaqueredirect" && !document.querySelector(".toast.shown")) location.assign(queue);
      };
      for (const news of ["live-today", "live-open"]) document.body.addEventListener(news, goOn);
    },
  };
}
