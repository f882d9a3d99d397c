// Part by part: Python draws the cells; a brush joins them, removes them or lifts them out.
import { actors, action } from "../core/act.js";
import { notice } from "../core/notices.js";
import { askPanels, command } from "../core/server.js";
import { $, inHand, on, state, emit } from "../core/state.js";
import { work } from "../core/work.js";

// `fill` is that of the outline whose choice of cells is edited, "" for pieces without one
let data = { ids: [], cells: [], why: "", fill: "" };
let groups = []; // lists of cell numbers, joined
let lifted = new Set();
let away = new Set();
let over = null;
let walked = false; // the arrows went to it, and not the pointer
let brush = "join";
let from = null; // where joining by keyboard began

export const active = () => state.tool === "cells";
const place = $("cells");

const ONE = "There is only one part. Select pieces that overlap, or a line across them.";
on("cells", (got) => {
  const same = got.ids.join() === data.ids.join() && got.cells.length === data.cells.length;
  data = got;
  if (!same) reset();
  draw();
  const why = got.why || (got.cells.length < 2 && !got.fill ? ONE : "");
  if (active() && why) {
    notice(why);
    emit("cells-none");
  }
});
on("tool", () => {
  reset();
  if (active()) askPanels();
  else data = { ids: [], cells: [], why: "", fill: "" };
  draw();
});
on("chosen", () => {
  if (active() && state.chosen.join() !== data.ids.join()) reset();
});

function reset() {
  groups = [];
  lifted = new Set();
  away = new Set();
  from = null;
}

work({
  name: "Part by part",
  active: () => active() && data.cells.length > 0,
  get: () => ({ groups, lifted: [...lifted], away: [...away] }),
  set(was) {
    groups = was.groups;
    lifted = new Set(was.lifted);
    away = new Set(was.away);
    from = null;
    draw();
  },
});

const groupOf = (k) => groups.findIndex((g) => g.includes(k));
const fillOf = (k) => data.cells[k].fill;

function draw() {
  const shows = active() && data.cells.length > 0;
  const parts = [];
  // joined cells come last, over a wide line whose inner half their own paint covers: the outline of all of them
  const order = [...data.cells.keys()].sort((a, b) => groupOf(a) - groupOf(b) || a - b);
  let edged = -1;
  for (const k of shows ? order : []) {
    const c = data.cells[k];
    const g = groupOf(k);
    if (g > edged) {
      edged = g;
      for (const kind of ["casing", "edge"])
        for (const i of groups[g]) parts.push(`<path class="joined-${kind}" d="${data.cells[i].d}"/>`);
    }
    const fill = g >= 0 ? data.fill || groups[g].map(fillOf).find(Boolean) || "" : c.fill;
    const names = ["cell"];
    if (away.has(k)) names.push("away");
    if (lifted.has(k)) names.push("lifted");
    // each group has a tint of its own, and no lines within it
    if (g >= 0) names.push("joined", `tint-${g % 4}`);
    if (k === over) names.push("over");
    if (!fill) names.push("gap");
    const paint = away.has(k) ? "url(#hatch-sheet)" : fill && fill !== "none" ? fill : "transparent";
    parts.push(`<path class="${names.join(" ")}" data-cell="${k}" d="${c.d}" fill="${paint}" stroke="${paint}"/>`);
  }
  place.innerHTML = parts.join("");
  $("art").classList.toggle("celled", shows);
  // what is part of the outline stands out from its surroundings
  $("art").classList.toggle("recelled", shows && Boolean(data.fill));
  for (const g of $("art").children)
    g.classList.toggle("in-cells", shows && data.ids.includes(g.dataset.id) && g.dataset.kind !== "frame");
  bar(shows);
}

function bar(shows) {
  $("cell-bar").hidden = !shows;
  $("cells-following").hidden = Boolean(data.fill);
  const joined = groups.reduce((n, g) => n + g.length, 0);
  const words = [
    groups.length ? `${joined} joined${data.fill ? "" : ` into ${groups.length}`}` : "",
    lifted.size ? `${lifted.size} lifted` : "",
    away.size ? `${away.size} taken away` : "",
  ].filter(Boolean);
  $("cell-bar").querySelector(".mode-words").textContent = words.length
    ? words.join(" · ")
    : `${data.cells.length} part${data.cells.length === 1 ? "" : "s"}`;
  $("accept-cells").disabled = !words.length;
  for (const [button, { name }] of actors("page:brush")) button.setAttribute("aria-pressed", String(name === brush));
}

const cellAt = (event) => {
  const cell = document.elementFromPoint(event.clientX, event.clientY)?.closest("[data-cell]");
  return cell ? Number(cell.dataset.cell) : null;
};
export function hover(event) {
  const k = cellAt(event);
  if (k === over) return;
  over = k;
  walked = false;
  for (const path of place.children) path.classList.toggle("over", Number(path.dataset.cell) === k);
}

function forget(k) {
  groups = groups.map((g) => g.filter((c) => c !== k)).filter((g) => g.length > (data.fill ? 0 : 1));
  lifted.delete(k);
  away.delete(k);
}

// Apply a brush to the cells it went over.
function brushed(path, name) {
  if (name !== "join") {
    for (const c of path) {
      forget(c);
      (name === "away" ? away : lifted).add(c);
    }
    return;
  }
  // dragging out of a group extends it
  const whole = [...new Set(path.flatMap((c) => (groupOf(c) >= 0 ? groups[groupOf(c)] : [c])))];
  // cells are joined to the edited outline, otherwise to each other
  if (whole.length < 2 && !data.fill) return;
  groups = groups.filter((g) => !g.some((c) => whole.includes(c)));
  for (const c of whole) forget(c);
  groups.push(whole);
}

// Drag across cells with the brush; a click on a marked one unmarks it.
export function press(event0) {
  const first = cellAt(event0);
  const path = first === null ? [] : [first];
  const name = event0.altKey ? "away" : brush;
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
      brushed(path, name);
      draw();
    },
    end: () => draw(),
    click() {
      if (first === null) return;
      toggle(first, name);
    },
    cancel() {
      back();
      draw();
    },
  };
}

function toggle(k, name) {
  const named = lifted.has(k) || away.has(k) || groupOf(k) >= 0;
  if (name === "join" && !named && !data.fill) {
    if (from === null || from === k) from = k;
    else {
      brushed([from, k], "join");
      from = null;
    }
  } else {
    const had = name === "away" ? away.has(k) : name === "lift" ? lifted.has(k) : named;
    forget(k);
    if (!had) brushed([k], name);
  }
  draw();
  if (from !== null) notice("Now the part to join it with.", "Click it, or go there with the arrows and press J.");
}

// The brush; by keyboard it applies to the cell reached by the arrows.
action("brush", ({ name }, { event }) => {
  brush = name;
  if (event?.type === "keydown" && walked && over !== null && data.cells.length) toggle(over, name);
  bar(active() && data.cells.length > 0);
});
action("next-cell", ({ x, y }) => {
  const n = data.cells.length;
  if (!n) return;
  over = over === null ? 0 : (over + (x + y > 0 ? 1 : -1) + n) % n;
  walked = true;
  draw();
});
action("accept-cells", async () => {
  if (!groups.length && !lifted.size && !away.size) {
    return notice("No part was joined, lifted or taken away.", "Drag across some parts first.");
  }
  const done = inHand();
  const follow = !data.fill && $("cells-follow").checked;
  const args = { ids: data.ids, joined: groups, lifted: [...lifted], away: [...away], follow };
  const answer = await command("by_cell", args);
  if (!answer.error) done();
  return answer;
});
// Escape first unmarks everything, then leaves.
export function drop() {
  if (!groups.length && !lifted.size && !away.size) return false;
  reset();
  draw();
  return true;
}
