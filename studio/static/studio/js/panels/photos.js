// Photos are imported by dropping, pasting or choosing; then one command places them all.
import { filesOf } from "../core/folders.js";
import { action } from "../core/act.js";
import { MARK } from "../tools/actions.js";
import { isOpen, outlineAt, stepOut, veil } from "../tools/select.js";
import { notice } from "../core/notices.js";
import { progress, stoppable } from "../core/progress.js";
import { askBrought, command, sendFile } from "../core/server.js";
import { $, drawn, state } from "../core/state.js";
import { toSheet } from "../core/view.js";

const MANY = 5;

// Wait until photos that are read later are ready; on stop, those that are ready are placed.
async function read(taken, wrong, signal) {
  const waiting = new Map(taken.filter((t) => t.job).map((t) => [t.job, t]));
  const count = waiting.size;
  while (waiting.size) {
    progress(`Reading ${count - waiting.size + 1} of ${count}`, (count - waiting.size) / count);
    const answer = await askBrought([...waiting.keys()]);
    for (const [job, how] of Object.entries(answer)) {
      if (!how) continue;
      const one = waiting.get(job);
      waiting.delete(job);
      if (how.error) wrong.push(how);
      else Object.assign(one, how);
    }
    if (signal.aborted) {
      if (waiting.size) await askBrought([...waiting.keys()], true);
      break;
    }
    if (waiting.size) await new Promise((done) => setTimeout(done, 300));
  }
}

const desk = $("desk");
const PATH = /^m[\d\s,.+\-eMmLlHhVvCcSsQqTtAaZz]{6,}$/i;
// `into` is the outline they were dropped on.
async function bringIn(files, at, into = "", beside = "") {
  if (!files.length) return;
  const signal = stoppable().signal;
  const taken = [];
  const wrong = [];
  // many are read by the queue's workers, several at once
  const many = files.length >= MANY;
  for (const [k, file] of files.entries()) {
    const words =
      files.length > 1 ? `Bringing in ${k + 1} of ${files.length}: ${file.name}` : `Bringing in ${file.name}`;
    progress(words, 0);
    const sent = (share) => {
      if (many) progress(words, (k + share) / files.length);
      else progress(share < 1 ? words : `Reading ${file.name}`, share < 1 ? share : null);
    };
    const answer = await sendFile(file, sent, signal, many);
    if (answer.stopped) break;
    if (answer.error) wrong.push(answer);
    else taken.push(answer);
  }
  await read(taken, wrong, signal);
  progress(null);
  if (wrong.length === 1) notice(wrong[0].error, wrong[0].remedy);
  else if (wrong.length) {
    notice(
      `${wrong.length} files were not brought in.`,
      wrong
        .map((w) => w.error)
        .slice(0, 5)
        .join(" "),
    );
  }
  // a photo cannot miss its target: if another window was quicker it is placed all the same
  const where = at ? { x: at.x, y: at.y } : {};
  // it comes onto the sheet itself
  while (taken.length && state.inside) stepOut();
  for (const { file } of taken.filter((t) => t.drawing))
    await command("bring_drawing", { file, ...where }, { again: true });
  const all = taken.filter((t) => t.file && !t.drawing).map((photo) => photo.file);
  if (all.length) await command("place", { files: all, into, beside, ...where }, { again: true });
  const said = taken.find((t) => t.note);
  if (said) notice(said.note, said.remedy);
}

// Outline first: a photo from the dialog or pasted goes into the only selected thing, if it has no
// photo; beside a frame it is offered as a replacement for the photo in it.
function bringBy(files) {
  const [id] = state.chosen;
  const g = state.chosen.length === 1 && files.length === 1 ? drawn(id) : null;
  const empty = g?.parentNode.id === "art" && ["piece", "outline"].includes(g.dataset.kind) && !isOpen(g);
  return bringIn(files, null, empty ? id : "", g?.dataset.kind === "frame" ? id : "");
}

const withFiles = (event) => [...(event.dataTransfer?.types || [])].includes("Files");
let depth = 0;
desk.addEventListener("dragenter", (event) => {
  if (!withFiles(event)) return;
  depth++;
  desk.classList.add("dropping");
});
desk.addEventListener("dragleave", (event) => {
  if (withFiles(event) && --depth <= 0) {
    depth = 0;
    desk.classList.remove("dropping");
    veil("");
  }
});
desk.addEventListener("dragover", (event) => withFiles(event) && veil(outlineAt(event)));
for (const name of ["dragover", "drop"]) {
  document.addEventListener(name, (event) => {
    if (withFiles(event)) event.preventDefault();
  });
}
desk.addEventListener("drop", (event) => {
  depth = 0;
  desk.classList.remove("dropping");
  veil("");
  const p = toSheet(event);
  const on = p.x >= 0 && p.y >= 0 && p.x <= state.surface.width && p.y <= state.surface.height;
  const into = outlineAt(event);
  filesOf(event.dataTransfer).then(
    (files) => {
      if (files.length) bringIn(files, on ? p : null, into);
      else notice("There is no picture in that folder.", "Drop photos, SVG files, or a folder of them.");
    },
    () => notice("That folder cannot be read.", "Drop the files in it instead."),
  );
});
document.addEventListener("paste", (event) => {
  const files = [...(event.clipboardData?.files || [])];
  const text = event.clipboardData?.getData("text/plain").trim() || "";
  if (files.length) {
    event.preventDefault();
    bringBy(files);
  } else if (
    !MARK.test(text) &&
    !event.target.closest?.("input, textarea") &&
    (/^<(\?xml|!doctype|svg)/i.test(text) || PATH.test(text))
  ) {
    event.preventDefault();
    // path data alone is a piece, too
    const svg = PATH.test(text) ? `<svg xmlns="http://www.w3.org/2000/svg"><path d="${text}"/></svg>` : text;
    bringIn([new File([svg], "Pasted.svg", { type: "image/svg+xml" })], null);
  }
});
action("bring-in", () => $("files").click());
$("files").addEventListener("change", (event) => {
  const files = [...event.target.files];
  event.target.value = "";
  bringBy(files);
});
