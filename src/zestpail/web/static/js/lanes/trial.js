// A file that a lane's letter is tried on: sent, then the page is loaded anew to follow the trial.
import { drop } from "../today/drop.js";

export function trial() {
  const sending = drop();
  return {
    ...sending,
    init() {
      this.$root.addEventListener("all-sent", () => location.reload());
    },
  };
}
