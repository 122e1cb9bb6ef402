// Files dropped on a lane, sent one after the other, so that each is safe as soon as it is answered and the batch
// has them in the order in which they were dropped.

import { LARGE, sendInPieces } from "./chunked_upload.js";

export function drop() {
  return {
    said: "",
    over() {
      this.$root.classList.add("over");
    },
    out(event) {
      if (!this.$root.contains(event.relatedTarget)) this.$root.classList.remove("over");
    },
    dropped(event) {
      this.$root.classList.remove("over");
      this.send([...event.dataTransfer.files]);
    },
    chosen(event) {
      const files = [...event.target.files];
      event.target.value = "";
      this.send(files);
    },
    async send(files) {
      if (!files.length) return;
      this.$root.dataset.sending = "yes"; // whoever would draw this part anew waits until all are sent
      const failed = [];
      let kept = 0;
      let batch = null;
      for (const file of files) {
        this.said = `${kept} of ${files.length} kept`;
        const answer = await this.sent(file, batch, (share) => {
          this.said = `${kept} of ${files.length} kept, ${Math.floor(share * 100)} % of ${file.name}`;
        });
        if (typeof answer === "string") failed.push(answer);
        else {
          batch ??= answer;
          kept += 1;
        }
      }
      if (failed.length) this.said = `${kept} of ${files.length} kept. ${failed.join(" ")}`;
      else this.said = files.length === 1 ? "1 file kept" : `${files.length} files kept`;
      delete this.$root.dataset.sending;
      this.$root.dispatchEvent(new CustomEvent("all-sent", { bubbles: true }));
    },
    // Large files go in pieces where a lane takes them.
    sent(file, batch, tell) {
      const { lane } = this.$root.dataset;
      return lane && file.size > LARGE ? sendInPieces(file, lane, batch, tell) : this.post(file, batch);
    },
    // The number of the batch, or a sentence why the file was not kept.
    async post(file, batch) {
      const form = new FormData();
      form.append("files", file);
      if (batch !== null) form.append("batch", batch);
      try {
        const answer = await fetch(this.$root.dataset.to, {
          method: "POST", body: form, headers: { accept: "application/json" },
        });
        return answer.ok ? (await answer.json()).batch : await answer.text();
      } catch {
        return `${file.name} did not arrive; drop it again.`;
      }
    },
  };
}
