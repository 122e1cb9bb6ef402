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

// Everything is measured before anything is moved: each measuring after a move has the browser lay out the page anew.
export function stand(viewport) {
  const origin = document.getElementById("leaders").getBoundingClientRect();
  const paper = document.getElementById("paper").getBoundingClientRect();
  const margins = ["left", "right"].map((side) => {
    const margin = document.querySelector(`.margin.${side}`);
    return { side, margin, edge: margin.getBoundingClientRect() };
  });
  margins.forEach(({ margin }) => margin.classList.remove("tight", "scrolls"));
  const measure = ({ margin, edge }) => [...margin.querySelectorAll(".card")].map((card) => measured(viewport, card, edge, paper));
  for (const one of margins) one.cards = measure(one);
  const tight = margins.filter(({ cards, edge }) => needed(cards) > edge.height);
  tight.forEach(({ margin }) => margin.classList.add("tight"));
  for (const one of tight) one.cards = measure(one);
  const leaders = margins.flatMap((one) => placed(viewport, one, paper, origin));
  document.getElementById("leaders").replaceChildren(...leaders);
}

// The cards of one margin in their places; returns what ties them to their values.
function placed(viewport, { side, margin, edge, cards }, paper, origin) {
  const room = Math.max(needed(cards), edge.height);
  const scrolls = room > edge.height;
  margin.classList.toggle("scrolls", scrolls);
  margin.onscroll = scrolls ? () => stand(viewport) : null;
  cards.sort((a, b) => a.wish - b.wish);
  const tops = spread(cards, room);
  for (const [card, top] of tops) card.element.style.top = `${top}px`;
  if (scrolls) showActive(margin, tops, edge.height);
  const scrolled = scrolls ? margin.scrollTop : 0;
  const seen = [...tops].map(([card, top]) => [card, top - scrolled]);
  return seen.filter(([card, top]) => card.box && top > -20 && top < edge.height)
    .map(([card, top]) => tied(viewport, card, top, side, edge, paper, origin));
}

// Once for all that comes until the page is drawn next, such as snippets, which change the height of cards.
let waiting = null;
export function standSoon(viewport) {
  waiting ??= requestAnimationFrame(() => {
    waiting = null;
    stand(viewport);
  });
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
