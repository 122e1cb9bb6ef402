// Labelling by itself: what was found is looked through value by value, over all samples; right ones take one key.
import { say } from "../shell/toast.js";

export class Walk {
  constructor(bench) {
    this.bench = bench;
    this.on = new URLSearchParams(location.search).has("walk");
  }

  begin() {
    this.on = true;
    const { open, next } = this.bench.state();
    if (!open && !next) return this.end("Every value is labelled.");
    say("Y: it is right. Else click or draw what is right, or type it with E. Esc ends it.");
    return open ? undefined : this.forward();
  }

  end(why) {
    if (this.on && why) say(why);
    this.on = false;
  }

  // After something was said of the value at hand: on to the next one that nobody looked at.
  forward() {
    if (!this.on || this.bench.state().open) return;
    const [sample, field] = this.bench.state().next.split(":");
    if (!sample) return void this.end("Every value is labelled.");
    if (sample === this.bench.state().sample) this.bench.show(field);
    else location.assign(`/types/${this.bench.$root.dataset.key}?sample=${sample}&field=${field}&walk=1`);
  }
}
