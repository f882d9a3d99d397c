// Exporting: the drawer has the order, and the server makes the files.
import { read } from "../core/http.js";
import { action } from "../core/act.js";
import { choose, stepInside } from "../tools/select.js";
import { notice } from "../core/notices.js";
import { progress, stoppable } from "../core/progress.js";
import { listExports } from "./exports.js";
import { askEstimate, askExport, askPanels, beginRun, tellExport, flush } from "../core/server.js";
import { $, change, drawn, on, state, emit } from "../core/state.js";

// The sizes shown are those of the files: Python computes them for the order.
function order(values) {
  change({ export: { ...state.export, ...values } });
  if (state.station === "export") askPanels();
}
// the cards of the sheet differ in their extent
const AREAS = { sheet: "trimmed", whole: "whole", bleed: "bleed" };
const target = (key) => (AREAS[key] ? { what: "sheet", extent: AREAS[key] } : { what: key });
action("order", ({ name, value }) => {
  if (name === "what") return order(target(value));
  order({ [name]: value, ...(name === "by" ? { size: "" } : {}) });
});
// another selection: it is the target again
on("chosen", () => {
  if (state.export.what !== "each") change({ export: { ...state.export, what: "" } });
});

// Show what a warning is about.
action("see-item", ({ id }) => {
  const item = drawn(id);
  const holder = item?.parentNode.closest("g[data-kind]");
  if (holder) stepInside(holder.dataset.id);
  choose([id]);
});

const NAME = /filename\*=utf-8''([^;]+)|filename="([^"]+)"/i;
function nameOf(response, ending) {
  const [, coded, plain] = NAME.exec(response.headers.get("Content-Disposition")) || [];
  return coded ? decodeURIComponent(coded) : plain || `gouge.${ending}`;
}

const picked = () => $("export")?.querySelector("input[name=what]:checked")?.value;

// The current order.
export function ordered() {
  const now = picked() ? target(picked()) : { what: state.export.what || "" };
  return { format: "png", ...state.export, ...now, ids: now.what === "sheet" ? [] : state.chosen };
}

function fetchFile(address, name = "") {
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
}

// A saved file, shown and announced: "timetable-card.png saved, 1.9 MB".
const heavy = (bytes) =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1000))} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
function saved(name, bytes) {
  notice(`${name} saved, ${heavy(bytes)}.`);
  emit("exported", name);
}

// An export in the queue is followed until it is done; the person may go on working.
async function follow(id, signal) {
  signal.addEventListener("abort", () => tellExport(id, "stop").then(listExports));
  for (;;) {
    const rows = await listExports();
    const row = rows?.find((one) => one.id === id);
    if (signal.aborted) return null;
    if (row?.state === "ready") {
      fetchFile(`${state.urls.exports}/${id}/file`);
      saved(row.name, row.size);
      return null;
    }
    if (rows && row?.state !== "under way") {
      const answer = { error: "The export failed.", remedy: row?.why || "" };
      notice(answer.error, answer.remedy);
      return answer;
    }
    if (row) progress("Exporting…", row.share || null);
    await new Promise((done) => setTimeout(done, 500));
  }
}

// One frame over many photos, on a page of its own.
action("batch-photos", async () => {
  const { address, error, remedy } = await beginRun(state.chosen);
  if (error) return notice(error, remedy);
  location.assign(address);
});

let exporting = false;
action("export", async () => {
  // a second press of the same button counts as the first
  if (exporting) return null;
  exporting = true;
  try {
    return await exportNow();
  } finally {
    exporting = false;
  }
});

async function exportNow() {
  flush();
  const asked = ordered();
  const { signal } = stoppable();
  progress("Exporting…", null);
  try {
    const response = await askExport(asked, signal);
    if (!response.ok) {
      const answer = await read(response);
      const field = $(`d-${answer.field}`);
      field?.focus();
      field?.select?.();
      notice(answer.error, answer.remedy, answer.offer);
      return answer;
    }
    if (response.status === 202) return await follow((await response.json()).export, signal);
    const file = await response.blob();
    const address = URL.createObjectURL(file);
    const name = nameOf(response, asked.format);
    fetchFile(address, name);
    saved(name, file.size);
    setTimeout(() => URL.revokeObjectURL(address), 60000);
    listExports();
  } catch (error) {
    if (error.name !== "AbortError") notice("The server does not answer.", "Try again in a moment.");
  } finally {
    progress(null);
  }
  return null;
}

// The size of the file is asked for once the order has not changed for a while.
let soon = null;
let estimating = null;
on("panels-shown", () => {
  if (state.station !== "export" || !$("d-estimate")) return;
  const asked = JSON.stringify([ordered(), state.revision]);
  if ($("d-estimate").dataset.of === asked) return;
  $("d-estimate").dataset.of = asked;
  clearTimeout(soon);
  estimating?.abort();
  $("d-estimate").textContent = "\u00a0";
  // an impossible order has no size
  if (!$("d-wrong").hidden || $("export").querySelector(".target:has(:checked).cannot")) return;
  soon = setTimeout(async () => {
    estimating = new AbortController();
    const words = await askEstimate(ordered(), estimating.signal);
    const place = $("d-estimate");
    if (place?.dataset.of === asked) place.textContent = words || "\u00a0";
  }, 400);
});

// The outline for the web: copied by one press, or shown in use on a page of its own.
action("copy-text", async ({ from }) => {
  const field = $(from);
  try {
    await navigator.clipboard.writeText(field.value);
    notice("Copied.", "Paste it anywhere.");
  } catch {
    field.focus();
    field.select();
    notice("The browser didn’t allow copying.", "The text is selected: press Ctrl C.");
  }
});
action("see-web", (asked, { event }) => {
  event?.preventDefault();
  window.open(`${state.urls.web_sample}?${new URLSearchParams(asked)}`, "_blank", "noopener");
});
