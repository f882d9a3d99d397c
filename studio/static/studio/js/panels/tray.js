// The tray: the project's photos, at Fit and at Draw with Select. A click uses one, a drag puts it anywhere.
import { action, perform } from "../core/act.js";
import { clearNote } from "../core/note.js";
import { askTray, command } from "../core/server.js";
import { $, on, state } from "../core/state.js";
import { toSheet } from "../core/view.js";
import { outlineAt, veil } from "../tools/select.js";

const KIND = "application/x-gouge-photo";
let shown = "";
let asked = 0;
let underWay = -1; // the revision that the server is asked about

const offered = () => state.station === "fit" || state.tool === "choose";
// null until the station's own drawer is there: what is put into the one before goes with it
const place = () => (offered() && $("drawer").dataset.kind === state.station ? $("tray") : null);
async function fill(clear = false) {
  if (!place()) return;
  if (!place().childElementCount && shown) place().innerHTML = shown;
  // a page that opens, and a step, are told of in several ways
  if (clear !== true && underWay === state.revision) return;
  const mine = ++asked;
  underWay = state.revision;
  const html = await askTray(clear === true);
  if (mine === asked) underWay = -1;
  // the station may have changed, or a newer answer may have come, in between
  if (html === null || mine !== asked || !place()) return;
  if (html !== shown || !place().childElementCount) place().innerHTML = html;
  shown = html;
  if (wanted) {
    // the notice that led here has done its work; the ring shows where it led, after a press of the pointer too
    clearNote();
    place()
      .querySelector(".tray-photo")
      ?.focus(/** @type {FocusOptions} */ ({ focusVisible: true }));
  }
  wanted = false;
}

// Move the focus to the tray, so that the next press uses one of its photos.
let wanted = false;
action("open-tray", () => {
  wanted = true;
  if (offered()) fill();
  else perform(["page:station", { name: "fit" }]);
});
action("clear-tray", () => fill(true));
on("panels-shown", () => {
  if (place() && !place().childElementCount) fill();
});
on("shown", fill);
on("station", fill);
on("tool", fill);
fill();

document.addEventListener("dragstart", (event) => {
  const photo = event.target.closest?.(".tray-photo");
  if (!photo) return;
  event.dataTransfer.setData(KIND, photo.dataset.file);
  event.dataTransfer.effectAllowed = "copy";
});
const ours = (event) => [...(event.dataTransfer?.types || [])].includes(KIND);
const desk = $("desk");
desk.addEventListener("dragover", (event) => {
  if (!ours(event)) return;
  event.preventDefault();
  event.dataTransfer.dropEffect = "copy";
  veil(outlineAt(event));
});
desk.addEventListener("dragleave", (event) => {
  if (ours(event) && !desk.contains(event.relatedTarget)) veil("");
});
desk.addEventListener("drop", (event) => {
  if (!ours(event)) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  const into = outlineAt(event);
  veil("");
  const { x, y } = toSheet(event);
  command("use_photo", { file: event.dataTransfer.getData(KIND), ids: into ? [into] : [], x, y });
});
