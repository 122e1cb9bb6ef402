// Proposed fields: one of them is at hand, and a key keeps it or throws it away.
export class Proposals {
  constructor(bench) {
    this.bench = bench;
    this.at = 0; // the place of the one at hand, so that the next one is at hand when it has gone
  }

  cards() {
    return [...document.querySelectorAll("#margins .proposal")].sort((a, b) => place(a) - place(b));
  }

  // After the margins were drawn anew.
  renew() {
    const cards = this.cards();
    this.at = Math.min(this.at, Math.max(cards.length - 1, 0));
    cards.forEach((card, at) => card.classList.toggle("chosen", at === this.at));
  }

  choose(key) {
    this.at = Math.max(this.cards().findIndex((card) => card.dataset.key === key), 0);
    this.renew();
    this.bench.arrange();
  }

  // Whether the step was among proposals.
  step(by) {
    const cards = this.cards();
    if (!cards.length) return false;
    this.choose(cards[Math.min(Math.max(this.at + by, 0), cards.length - 1)].dataset.key);
    return true;
  }

  keep(key) {
    return this.send("keep", key ? [key] : this.at_hand());
  }

  throwAway(key) {
    return this.send("throw-away", key ? [key] : this.at_hand());
  }

  all(path) {
    return this.send(path, this.cards().map((card) => card.dataset.key));
  }

  send(path, chosen) {
    return chosen.length ? this.bench.change(`proposals/${path}`, { chosen }) : undefined;
  }

  at_hand() {
    return this.cards().slice(this.at, this.at + 1).map((card) => card.dataset.key);
  }
}

function place(card) {
  const [x, y] = card.dataset.box.split(",").map(Number);
  return Number(card.dataset.page) * 100000 + y * 10 + x / 100;
}
