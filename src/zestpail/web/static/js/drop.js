// Files dropped on a lane, sent one request each, so that each is safe as soon as it is answered.

const AT_ONCE = 3;

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
      const waiting = [...files];
      const failed = [];
      let kept = 0;
      const tell = () => {
        this.said = `${kept} of ${files.length} kept`;
      };
      tell();
      let batch = null;
      const one = async (file) => {
        const answer = await this.post(file, batch);
        if (answer === null) failed.push(file.name);
        else {
          batch ??= answer;
          kept += 1;
        }
        tell();
      };
      while (batch === null && waiting.length) await one(waiting.shift());
      const lane = async () => {
        while (waiting.length) await one(waiting.shift());
      };
      await Promise.all(Array.from({ length: AT_ONCE }, lane));
      if (failed.length) this.said = `Not kept, drop them again: ${failed.join(", ")}`;
      else this.said = files.length === 1 ? "1 file kept" : `${files.length} files kept`;
    },
    async post(file, batch) {
      const form = new FormData();
      form.append("files", file);
      if (batch !== null) form.append("batch", batch);
      try {
        const answer = await fetch(`/lanes/${this.$root.dataset.lane}/files`, {
          method: "POST", body: form, headers: { accept: "application/json" },
        });
        return answer.ok ? (await answer.json()).batch : null;
      } catch {
        return null;
      }
    },
  };
}
