// Every Alpine component of Zest Pail, one file each, registered before Alpine starts.
import { afterwards } from "./shell/afterwards.js";
import { batchSheet } from "./sheet/batch_sheet.js";
import { bench } from "./types/bench.js";
import { desk } from "./review/desk.js";
import { dialogs } from "./shell/dialogs.js";
import { drop } from "./today/drop.js";
import { largePage } from "./batches/large_page.js";
import { listen } from "./shell/live.js";
import { mapping } from "./lanes/mapping.js";
import { readingRoom } from "./archive/reading_room.js";
import { question } from "./review/question.js";
import { ribbon } from "./batches/ribbon.js";
import { sheet } from "./types/proof_sheet.js";
import { shell } from "./shell/shell.js";
import { wall } from "./sheet/wall.js";
import { trial } from "./lanes/trial.js";

document.addEventListener("alpine:init", () => {
  Alpine.data("shell", shell);
  Alpine.data("drop", drop);
  Alpine.data("desk", desk);
  Alpine.data("question", question);
  Alpine.data("readingRoom", readingRoom);
  Alpine.data("mapping", mapping);
  Alpine.data("batchSheet", batchSheet);
  Alpine.data("bench", bench);
  Alpine.data("ribbon", ribbon);
  Alpine.data("largePage", largePage);
  Alpine.data("sheet", sheet);
  Alpine.data("dialogs", dialogs);
  Alpine.data("trial", trial);
  Alpine.data("wall", wall);
  Alpine.data("afterwards", afterwards);
});
if (document.querySelector(".status")) listen();
