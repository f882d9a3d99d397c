// Reordering rows by dragging: the steps of a cut list, and the stack, where a photo can be dropped onto an outline.
import { command } from "../core/server.js";
import { state } from "../core/state.js";

const ROWS = ".step[draggable], [data-stack]";
const place = (row) => ({ id: row.closest("[data-list]").dataset.list, number: Number(row.dataset.number) });
let dragged = null;

const share = (row, event) => (event.clientY - row.getBoundingClientRect().top) / row.offsetHeight;

// Where a row of the stack goes when dropped on another: onto it, over or under it; null if it cannot.
function placing(row, event) {
  const at = share(row, event);
  const beside = row.dataset.within === dragged.dataset.within;
  if ("loose" in dragged.dataset && row.dataset.takes && (!beside || (at > 0.25 && at < 0.75))) return "onto";
  if (!beside) return null;
  return at > 0.5 ? "under" : "over";
}

// The row under the pointer and where the dragged one would go, if it can go there.
function target(event) {
  const row = dragged && event.target.closest?.(ROWS);
  if (!row || row.matches("[data-stack]") !== dragged.matches("[data-stack]")) return null;
  const to = row.dataset.stack ? placing(row, event) : "over";
  return to && { row, to };
}

function unmark() {
  for (const row of document.querySelectorAll(".over, .under, .onto"))
    if (row.matches(ROWS)) row.classList.remove("over", "under", "onto");
}

document.addEventListener("dragstart", (event) => {
  const row = event.target.closest?.(ROWS);
  if (!row) return;
  dragged = row;
  event.dataTransfer.effectAllowed = "move";
  event.dataTransfer.setData("text/plain", row.dataset.stack || row.dataset.number);
});
document.addEventListener("dragover", (event) => {
  if (!dragged) return;
  unmark();
  const found = target(event);
  if (!found) return;
  event.preventDefault();
  found.row.classList.add(found.to);
});

function dropped({ row, to }) {
  const one = dragged.dataset.stack;
  if (!one) {
    command("move_step", { ...place(dragged), to: place(row).number });
    return;
  }
  const ids = state.chosen.includes(one) ? state.chosen : [one];
  const other = row.dataset.stack;
  if (to === "onto") command(row.dataset.takes, { ids: [other, one] });
  else if (!ids.includes(other)) command("restack", { ids, to, other });
}

document.addEventListener("drop", (event) => {
  const found = target(event);
  if (!found) return;
  event.preventDefault();
  if (found.row !== dragged) dropped(found);
  dragged = null;
});
document.addEventListener("dragend", () => {
  dragged = null;
  unmark();
});
