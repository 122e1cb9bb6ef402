// Numbered pins at candidates, and the places that a landmark's dial takes.
const SVG = "http://www.w3.org/2000/svg";

// Which places the dial takes, and which it leaves.
export function sides(dialog, alike) {
  const places = [...dialog.querySelectorAll("[data-figure]")];
  for (const place of places) {
    const taken = Number(place.dataset.figure) >= alike;
    place.classList.toggle("taken", taken);
    place.querySelector(".side").textContent = taken ? "taken" : "left";
  }
  const count = places.filter((place) => place.classList.contains("taken")).length;
  dialog.querySelector("#dial-taken").textContent = `${alike.toFixed(2)}: ${count} taken, ${places.length - count} left.`;
}

// A numbered pin at the right end of a candidate.
export function pinned(pin) {
  const box = pin.dataset.box.split(",").map(Number);
  const group = document.createElementNS(SVG, "g");
  group.setAttribute("class", `pinned${pin.dataset.number === "1" ? " first" : ""}`);
  const dot = document.createElementNS(SVG, "circle");
  const figure = document.createElementNS(SVG, "text");
  for (const [name, value] of [["cx", box[2] + 9], ["cy", (box[1] + box[3]) / 2], ["r", 6.5]]) dot.setAttribute(name, value);
  for (const [name, value] of [["x", box[2] + 9], ["y", (box[1] + box[3]) / 2 + 3]]) figure.setAttribute(name, value);
  figure.textContent = pin.dataset.number;
  group.append(dot, figure);
  return group;
}
