// Working by cell: Python draws the cells; here they are joined by dragging across, taken away with Alt, lifted by a click.
import { notice } from "./hints.js";
import { askPanels, command } from "./server.js";
import { $, drawn, on, state, tell } from "./state.js";

let data = { ids: [], cells: [], why: "" };
let groups = []; // lists of cell numbers, joined
let lifted = new Set();
let away = new Set();
let over = null;

export const active = () => state.tool === "cells";
const place = $("cells");

on("cells", (got) => {
  const same = got.ids.join() === data.ids.join() && got.cells.length === data.cells.length;
  data = got;
  if (!same) reset();
  draw();
  if (active() && got.why) {
    notice(got.why);
    tell("cells-none");
  }
});
on("tool", () => {
  if (active()) {
    reset();
    askPanels();
  } else {
    data = { ids: [], cells: [], why: "" };
    reset();
    draw();
  }
});
on("chosen", () => {
  if (active() && state.chosen.join() !== data.ids.join()) reset();
});

function reset() {
  groups = [];
  lifted = new Set();
  away = new Set();
}

const groupOf = (k) => groups.findIndex((g) => g.includes(k));
const fillOf = (k) => data.cells[k].fill;

function draw() {
  const parts = [];
  const on_ = active() && data.cells.length > 0;
  for (const [k, c] of on_ ? data.cells.entries() : []) {
    const g = groupOf(k);
    const fill = g >= 0 ? groups[g].map(fillOf).find(Boolean) || "#c9bda4" : c.fill;
    const cls = ["cell", away.has(k) ? "away" : "", lifted.has(k) ? "lifted" : "", g >= 0 ? "joined" : "", k === over ? "over" : "", fill ? "" : "gap"].join(" ");
    parts.push(`<path class="${cls}" data-cell="${k}" d="${c.d}" fill="${away.has(k) ? "url(#hatch-sheet)" : fill && fill !== "none" ? fill : "transparent"}"${g >= 0 ? ` stroke="${fill === "none" ? "transparent" : fill}"` : ""}/>`);
  }
  place.innerHTML = parts.join("");
  $("art").classList.toggle("celled", on_);
  for (const g of $("art").children) g.classList.toggle("in-cells", on_ && data.ids.includes(g.dataset.id) && g.dataset.kind !== "frame");
  const bar = $("cell-bar");
  bar.hidden = !on_;
  const words = [
    groups.length ? `${groups.reduce((n, g) => n + g.length, 0)} joined into ${groups.length}` : "",
    lifted.size ? `${lifted.size} lifted` : "",
    away.size ? `${away.size} taken away` : "",
  ].filter(Boolean);
  bar.querySelector("span").textContent = words.length ? words.join(" · ") : `${data.cells.length} cells`;
  bar.querySelector("[data-do=accept-cells]").disabled = !words.length;
}

export const cellAt = (event) => {
  const cell = document.elementFromPoint(event.clientX, event.clientY)?.closest("[data-cell]");
  return cell ? Number(cell.dataset.cell) : null;
};
export function hover(event) {
  const k = cellAt(event);
  if (k === over) return;
  over = k;
  for (const path of place.children) path.classList.toggle("over", Number(path.dataset.cell) === k);
}

const forget = (k) => {
  groups = groups.map((g) => g.filter((c) => c !== k)).filter((g) => g.length > 1);
  lifted.delete(k);
  away.delete(k);
};

// Drag across cells: joined, or with Alt taken away. A click lifts one out; again puts it back.
export function press(event0) {
  const first = cellAt(event0);
  const path = first === null ? [] : [first];
  const before = { groups: groups.map((g) => [...g]), lifted: new Set(lifted), away: new Set(away) };
  const back = () => {
    groups = before.groups.map((g) => [...g]);
    lifted = new Set(before.lifted);
    away = new Set(before.away);
  };
  return {
    hint: "cells",
    update(event) {
      const k = cellAt(event);
      if (k !== null && !path.includes(k)) path.push(k);
      back();
      if (event0.altKey) {
        for (const c of path) {
          forget(c);
          away.add(c);
        }
      } else if (path.length > 1) {
        // dragging out of a group grows it
        const grown = path.flatMap((c) => (groupOf(c) >= 0 ? groups[groupOf(c)] : [c]));
        const whole = [...new Set(grown)];
        groups = groups.filter((g) => !g.some((c) => whole.includes(c)));
        for (const c of whole) forget(c);
        groups.push(whole);
      }
      draw();
    },
    end: () => draw(),
    click() {
      if (first === null) return;
      const held = lifted.has(first) || away.has(first);
      forget(first);
      if (!held) (event0.altKey ? away : lifted).add(first);
      draw();
    },
    cancel() {
      back();
      draw();
    },
  };
}

export async function accept() {
  if (!groups.length && !lifted.size && !away.size) return notice("No cell was joined, lifted or taken away.", "Drag across some cells first.");
  const args = { ids: data.ids, joined: groups, lifted: [...lifted], away: [...away] };
  const answer = await command("by_cell", args);
  if (!answer.error) tell("drawn");
}
// Escape first puts everything back, then leaves.
export function drop() {
  if (!groups.length && !lifted.size && !away.size) return false;
  reset();
  draw();
  return true;
}

// By keyboard: arrows go from cell to cell, J joins on, A takes away, L lifts.
let marked = [];
export function key(event) {
  const n = data.cells.length;
  if (!n) return false;
  const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
  if (step) {
    over = over === null ? 0 : (over + step + n) % n;
    if (event.shiftKey) marked = [...new Set([...marked, over])];
    draw();
    return true;
  }
  const letter = event.key.toLowerCase();
  if (over === null || !["j", "a", "l"].includes(letter)) return false;
  if (letter === "j") {
    if (!marked.length) {
      marked = [over];
      notice("Now go to the next cell with the arrows, and press J again.");
      return true;
    }
    const whole = [...new Set([...marked, over].flatMap((c) => (groupOf(c) >= 0 ? groups[groupOf(c)] : [c])))];
    groups = groups.filter((g) => !g.some((c) => whole.includes(c)));
    for (const c of whole) forget(c);
    if (whole.length > 1) groups.push(whole);
    marked = [];
  } else {
    const set = letter === "a" ? away : lifted;
    const held = set.has(over);
    forget(over);
    if (!held) set.add(over);
  }
  draw();
  return true;
}
