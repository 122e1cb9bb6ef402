// Cards in both margins stand at the height of their values and are tied to them; the same on every desk with a page.
import { leader, spread } from "./margins.js";
import { outline } from "./picking.js";

const SVG = "http://www.w3.org/2000/svg";

// What marks a card's value on the page: a line under what is settled, a frame round what is not.
export function mark(card) {
  const box = card.dataset.box.split(",").map(Number);
  const settled = card.dataset.state === "settled";
  const shape = document.createElementNS(SVG, settled ? "path" : "rect");
  if (settled) shape.setAttribute("d", `M${box[0]} ${box[3] + 1.5}H${box[2]}`);
  else outline(shape, box, 2);
  shape.setAttribute("class", card.dataset.state);
  shape.dataset.key = card.dataset.key;
  return shape;
}

export function stand(viewport) {
  const leaders = [];
  const origin = document.getElementById("leaders").getBoundingClientRect();
  const paper = document.getElementById("paper").getBoundingClientRect();
  for (const side of ["left", "right"]) {
    const margin = document.querySelector(`.margin.${side}`);
    const edge = margin.getBoundingClientRect();
    margin.classList.remove("tight", "scrolls");
    const measure = () => [...margin.querySelectorAll(".card")].map((card) => measured(viewport, card, edge, paper));
    let cards = measure();
    if (needed(cards) > edge.height) {
      margin.classList.add("tight");
      cards = measure();
    }
    const room = Math.max(needed(cards), edge.height);
    const scrolls = room > edge.height;
    margin.classList.toggle("scrolls", scrolls);
    margin.onscroll = scrolls ? () => stand(viewport) : null;
    cards.sort((a, b) => a.wish - b.wish);
    const tops = spread(cards, room);
    for (const [card, top] of tops) card.element.style.top = `${top}px`;
    if (scrolls) showActive(margin, tops, edge.height);
    for (const [card, top] of tops) {
      const seen = top - margin.scrollTop;
      if (card.box && seen > -20 && seen < edge.height) leaders.push(tied(viewport, card, seen, side, edge, paper, origin));
    }
  }
  document.getElementById("leaders").replaceChildren(...leaders);
}

function needed(cards) {
  return cards.reduce((sum, card) => sum + card.height + 4, 0);
}

// A card that has just become active is scrolled to; after that the margin stays where the person scrolls it.
function showActive(margin, tops, height) {
  const [card, top] = [...tops].find(([one]) => one.element.classList.contains("active")) ?? [];
  if (!card || margin.dataset.shown === card.element.id) return;
  margin.dataset.shown = card.element.id;
  if (top < margin.scrollTop || top + card.height > margin.scrollTop + height) margin.scrollTop = top;
}

function measured(viewport, element, edge, paper) {
  const { page, box } = element.dataset;
  const place = box ? viewport.toPaper(Number(page), box.split(",").map(Number)) : null;
  const wish = place ? (place.top + place.bottom) / 2 + paper.top - edge.top - 16 : edge.height;
  return { element, box: place, wish, height: element.offsetHeight };
}

function tied(viewport, card, top, side, edge, paper, origin) {
  const within = (value, low, high) => Math.min(Math.max(value, low), high);
  const right = side === "right";
  const path = document.createElementNS(SVG, "path");
  const from = { x: (right ? edge.left : edge.right) - origin.left, y: edge.top + top + 16 - origin.top };
  const x = paper.left + (right ? card.box.right + 2 * viewport.scale : card.box.left - 2 * viewport.scale);
  const y = paper.top + (card.box.top + card.box.bottom) / 2;
  const to = { x: within(x, paper.left, paper.right) - origin.left, y: within(y, paper.top, paper.bottom) - origin.top };
  path.setAttribute("d", leader(from, to));
  path.setAttribute("class", `${card.element.dataset.state}${card.element.classList.contains("active") ? " active" : ""}`);
  path.dataset.key = card.element.dataset.key;
  return path;
}
