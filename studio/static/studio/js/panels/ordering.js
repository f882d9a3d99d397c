// Reordering rows by dragging them: the steps of a cut list, and the stack.
import { command } from "../core/server.js";
import { state } from "../core/state.js";

const ROWS = ".step[draggable], [data-stack]";
const place = (row) => ({ id: row.closest("[data-list]").dataset.list, number: Number(row.dataset.number) });
let dragged = null;

// The row under the pointer, if what is dragged can go there.
function target(event) {
  const row = dragged && event.target.closest?.(ROWS);
  return row && row.matches("[data-stack]") === dragged.matches("[data-stack]") ? row : null;
}

const lower = (row, event) => event.clientY > row.getBoundingClientRect().top + row.offsetHeight / 2;

function unmark() {
  for (const row of document.querySelectorAll(".over, .under"))
    if (row.matches(ROWS)) row.classList.remove("over", "under");
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
  const row = target(event);
  if (!row) return;
  event.preventDefault();
  row.classList.add(row.dataset.stack && lower(row, event) ? "under" : "over");
});
document.addEventListener("drop", (event) => {
  const row = target(event);
  if (!row) return;
  event.preventDefault();
  if (row !== dragged) {
    if (row.dataset.stack) {
      const one = dragged.dataset.stack;
      const ids = state.chosen.includes(one) ? state.chosen : [one];
      if (!ids.includes(row.dataset.stack))
        command("restack", { ids, to: lower(row, event) ? "under" : "over", other: row.dataset.stack });
    } else command("move_step", { ...place(dragged), to: place(row).number });
  }
  dragged = null;
});
document.addEventListener("dragend", () => {
  dragged = null;
  unmark();
});
