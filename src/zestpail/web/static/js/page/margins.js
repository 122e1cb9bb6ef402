// Cards stand at the height of their values, slide apart so that none overlaps, and are tied to them by leaders.

const GAP = 4;

// Tops for cards that wish to stand at certain heights, in order, without overlap, within [0, room]: cards that
// collide are joined into a block that stands where it moves its cards least (pool adjacent violators).
export function spread(cards, room) {
  const blocks = [];
  for (const card of cards) {
    let block = { cards: [card], size: card.height, wish: card.wish, weight: 1 };
    while (blocks.length && place(blocks.at(-1), room) + blocks.at(-1).size + GAP > place(block, room)) {
      block = joined(blocks.pop(), block);
    }
    blocks.push(block);
  }
  const tops = new Map();
  for (const block of blocks) {
    let top = place(block, room);
    for (const card of block.cards) {
      tops.set(card, top);
      top += card.height + GAP;
    }
  }
  return tops;
}

function place(block, room) {
  return Math.max(Math.min(block.wish, room - block.size), 0);
}

function joined(upper, lower) {
  const weight = upper.weight + lower.weight;
  const lowerWish = lower.wish - upper.size - GAP;
  return {
    cards: [...upper.cards, ...lower.cards],
    size: upper.size + GAP + lower.size,
    wish: (upper.wish * upper.weight + lowerWish * lower.weight) / weight,
    weight,
  };
}

// The path of a leader from the edge of a card to the edge of its value.
export function leader(from, to) {
  const bend = (to.x - from.x) / 2;
  return `M${from.x.toFixed(1)} ${from.y.toFixed(1)}C${(from.x + bend).toFixed(1)} ${from.y.toFixed(1)} ` +
    `${(to.x - bend).toFixed(1)} ${to.y.toFixed(1)} ${to.x.toFixed(1)} ${to.y.toFixed(1)}`;
}
