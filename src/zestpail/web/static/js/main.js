// Every Alpine component of Zest Pail, one file each, registered before Alpine starts.
import { afterwards } from "./afterwards.js";
import { bench } from "./bench.js";
import { desk } from "./desk.js";
import { dialogs } from "./dialogs.js";
import { drop } from "./drop.js";
import { largePage } from "./large_page.js";
import { listen } from "./live.js";
import { ribbon } from "./ribbon.js";
import { sheet } from "./sheet.js";
import { shell } from "./shell.js";
import { trial } from "./trial.js";

document.addEventListener("alpine:init", () => {
  Alpine.data("shell", shell);
  Alpine.data("drop", drop);
  Alpine.data("desk", desk);
  Alpine.data("bench", bench);
  Alpine.data("ribbon", ribbon);
  Alpine.data("largePage", largePage);
  Alpine.data("sheet", sheet);
  Alpine.data("dialogs", dialogs);
  Alpine.data("trial", trial);
  Alpine.data("afterwards", afterwards);
});
if (document.querySelector(".status")) listen();
