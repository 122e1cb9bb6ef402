// A sentence at the foot of the desk, gone after a few seconds.

let silence;

export function say(text) {
  const toast = document.getElementById("toast");
  toast.textContent = text;
  toast.classList.add("shown");
  clearTimeout(silence);
  silence = setTimeout(hush, 6000);
}

export function hush() {
  document.getElementById("toast").classList.remove("shown");
}
