// Rows of the stack are drawn when they come into view, and redrawn when they have changed.
import { renew } from "../core/panels.js";
import { unpressed } from "../core/pressed.js";
import { askRows } from "../core/server.js";
import { $, on, emit } from "../core/state.js";

const LACKING = ":is(.later, .stale)";
const wanted = new Set();
let asking = false;
const seen = new IntersectionObserver(
  (entries) => {
    for (const { target, isIntersecting } of entries) {
      if (isIntersecting) wanted.add(target.id);
      else wanted.delete(target.id);
    }
    fetchRows();
  },
  { root: document.querySelector(".stack-section"), rootMargin: "400px" },
);

async function fetchRows() {
  if (asking || !wanted.size) return;
  asking = true;
  // follow continued scrolling
  await new Promise((done) => setTimeout(done, 60));
  const ids = [...wanted].slice(0, 200);
  const html = ids.length ? await askRows(ids.map((id) => id.replace("entry-", ""))) : "";
  const holder = document.createElement("template");
  holder.innerHTML = html;
  await new Promise(unpressed);
  for (const row of [...holder.content.children]) {
    const place = $(row.id);
    if (!place?.matches(LACKING)) continue;
    seen.unobserve(place);
    renew(place, row);
  }
  for (const id of ids) {
    wanted.delete(id);
    // missing rows are asked for once more
    const place = $(id);
    if (place?.matches(LACKING)) {
      seen.unobserve(place);
      delete place.dataset.watched;
    }
  }
  asking = false;
  if (html) emit("panels-shown");
  else setTimeout(watch, 2000);
  fetchRows();
}

function watch() {
  for (const row of document.querySelectorAll(`#stack ${LACKING}:not([data-watched])`)) {
    row.dataset.watched = "";
    seen.observe(row);
  }
}
on("panels-shown", watch);
watch();
