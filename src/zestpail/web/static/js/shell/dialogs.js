// Dialogs that a word of the page opens; in them, what belongs to another choice is hidden.
export function dialogs() {
  return {
    init() {
      this.$root.addEventListener("click", (event) => {
        const opener = event.target.closest("[data-dialog]");
        if (opener) {
          event.preventDefault(); // a link, as buttons do not wrap within a sentence
          const dialog = document.getElementById(opener.dataset.dialog);
          dialog.showModal();
          const naming = dialog.querySelector("#naming");
          naming?.setSelectionRange(naming.value.length, naming.value.length);
        }
        event.target.closest("[data-close]")?.closest("dialog").close();
        const insert = event.target.closest("[data-insert]");
        if (insert) putIn(insert.closest("form").querySelector("#naming"), insert.dataset.insert);
      });
      for (const choice of this.$root.querySelectorAll("select[data-shows]")) {
        const show = () => choice.form.querySelectorAll(`[data-with="${choice.name}"]`).forEach((part) => {
          part.hidden = part.dataset.for !== choice.value;
        });
        choice.addEventListener("change", show);
        show();
      }
    },
  };
}

// The text where the cursor stands in the input.
function putIn(input, text) {
  input.setRangeText(text, input.selectionStart, input.selectionEnd, "end");
  input.focus();
}
