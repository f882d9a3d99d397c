// Panes: rows and columns dragged over a small grid, a preview while numbers are typed, marking panes.
import { action, defineWord, parsed, resolved } from "../core/act.js";
import { askPreview } from "../core/server.js";
import { $, on, onAny, state } from "../core/state.js";

const GRID = { columns: 8, rows: 6 };
const marked = new Set();

defineWord("$panes", () => [...marked].sort((a, b) => a - b));

// -- the preview while typing

const clear = () => {
  $("panes-live").innerHTML = "";
};

function show() {
  const split = $("split");
  const field = document.activeElement;
  const its = field?.closest("#pane-fields") && field.dataset.act ? field : null;
  const element = its || split;
  if (!element || state.chosen.length !== 1) return clear();
  const [name, args] = parsed(element);
  askPreview(
    state.chosen[0],
    resolved(args, { element }),
    ({ d }) => {
      const still = document.activeElement?.closest("#split-fields, #pane-fields, #pane-picker") || dragging;
      $("panes-live").innerHTML = d && still ? `<path d="${d}"/>` : "";
    },
    name,
    false,
    clear,
  );
}
document.addEventListener("input", (event) => {
  if (event.target.closest?.("#split-fields, #pane-fields")) show();
});
document.addEventListener("focusin", (event) => {
  if (event.target.closest?.("#split-fields")) show();
});
document.addEventListener("keydown", (event) => {
  if (event.key === "Enter" && event.target.closest?.("#split-fields")) $("split").click();
});
document.addEventListener("focusout", (event) => {
  if (event.target.closest?.("#split-fields, #pane-fields")) clear();
});
onAny(["answer", "chosen", "station"], clear);

// -- rows and columns by dragging

let dragging = false;

function picked(event) {
  const box = $("pane-picker").getBoundingClientRect();
  const share = (at, from, size, n) => Math.max(1, Math.min(n, Math.ceil(((at - from) / size) * n)));
  $("n-columns").value = share(event.clientX, box.left, box.width, GRID.columns);
  $("n-rows").value = share(event.clientY, box.top, box.height, GRID.rows);
  for (const id of ["n-pane_width", "n-pane_height"]) $(id).value = "";
  draw();
  show();
}

function draw() {
  const place = $("pane-picker");
  if (!place) return;
  const [columns, rows] = ["n-columns", "n-rows"].map((id) => Number($(id).value) || 0);
  const cells = [];
  for (let r = 0; r < GRID.rows; r++)
    for (let c = 0; c < GRID.columns; c++) cells.push(`<i${c < columns && r < rows ? ' class="on"' : ""}></i>`);
  place.innerHTML = cells.join("");
}
document.addEventListener("pointerdown", (event) => {
  if (!event.target.closest?.("#pane-picker")) return;
  event.preventDefault();
  dragging = true;
  picked(event);
});
document.addEventListener("pointermove", (event) => {
  if (dragging) picked(event);
});
document.addEventListener("pointerup", () => {
  if (!dragging) return;
  dragging = false;
  $("split")?.focus();
});
document.addEventListener("input", (event) => {
  if (event.target.matches?.("#n-columns, #n-rows")) draw();
});

// -- marking panes in the grid

function press() {
  for (const button of document.querySelectorAll(".pane-cell")) {
    button.setAttribute("aria-pressed", String(marked.has(parsed(button)[1].cell)));
  }
  for (const button of document.querySelectorAll("#pane-actions button")) button.disabled = marked.size === 0;
}
action("pane", ({ cell }) => {
  if (!marked.delete(cell)) marked.add(cell);
  press();
});
on("answer", () => marked.clear());
on("chosen", () => marked.clear());
on("panels-shown", () => {
  draw();
  press();
});
