// The page's actions for buttons and keys, besides commands.
import { actors, action } from "../core/act.js";
import { choose, holders, marks, stepInside, stepOut } from "./select.js";
import { tool } from "./gestures.js";
import { boxOf, clampedMove } from "./move.js";
import { notice } from "../core/notices.js";
import { stopNow } from "../core/progress.js";
import { askPanels, catchUp, command, flush, defer, idle, leave, rename } from "../core/server.js";
import { $, change, drawn, on, onAny, state, emit } from "../core/state.js";
import { rounded } from "./snap.js";
import { fit, fitBox, view, zoomTo } from "../core/view.js";

// -- stations

export function station(name) {
  if (name === state.station) return;
  flush();
  // a tool belongs to its station: at another one the tool is Select
  if (name !== "draw" && state.tool !== "choose") tool("choose");
  change({ station: name });
  history.replaceState(null, "", name === "draw" ? location.pathname : `?station=${name}`);
  for (const [tab, args] of actors("page:station")) {
    if (args.name === name) tab.setAttribute("aria-current", "step");
    else tab.removeAttribute("aria-current");
    tab.tabIndex = args.name === name ? 0 : -1;
  }
  $("drawer").setAttribute("aria-label", `${name[0].toUpperCase()}${name.slice(1)}`);
  see();
  emit("station", name);
  askPanels();
}
// Its key moves the focus to the station's drawer, where Tab continues; the sheet's keys keep working.
action("station", ({ name }, { event } = /** @type {import("../core/act.js").From} */ ({})) => {
  station(name);
  if (event?.type === "keydown") $("drawer").focus({ preventScroll: true });
});

// changes in flight arrive first
action("steps", async (_, { event } = /** @type {any} */ ({})) => {
  // a new window opens as from any link
  if (event?.ctrlKey || event?.metaKey) return;
  event?.preventDefault();
  flush();
  await idle();
  location.assign($("steps").href);
});

// A silhouette's settings are in Fit's drawer.
action("silhouette", () => {
  station("fit");
  tool("silhouette");
});

// -- viewing

// Photos show through pieces while drawing, cutting and fitting; Finish shows them as exported.
export function see(seeThrough = state.seeThrough) {
  change({ seeThrough });
  const working = ["draw", "cut", "fit"].includes(state.station);
  $("art").classList.toggle("seeing", state.seeThrough && working);
  for (const id of ["art", "desk"]) $(id).classList.toggle("as-exported", !working);
  $("art").classList.toggle("fitting", state.station === "fit");
  for (const [box] of actors("page:see")) if ("checked" in box) box.checked = state.seeThrough;
}
action("see", ({ on: want }) => see(typeof want === "boolean" ? want : !state.seeThrough));

// Outlines only: no paint and no photos, to see every line.
action("lines", ({ on: want }) => {
  change({ lines: typeof want === "boolean" ? want : !state.lines });
  $("art").classList.toggle("lines", state.lines);
  for (const [box] of actors("page:lines")) if ("checked" in box) box.checked = state.lines;
});

action("fit", fit);
action("zoom", ({ by }) => zoomTo(view.zoom * by));
action("actual-size", () => zoomTo(96 / state.surface.resolution));
const cornersOf = (g) => g.dataset.box.split(" ").map(Number);
action("fit-chosen", () => {
  const boxes = (state.chosen.length ? state.chosen.map(drawn) : [...$("art").children]).filter(Boolean).map(cornersOf);
  const edge = (k, pick) => pick(...boxes.map((b) => b[k]));
  if (boxes.length) fitBox([edge(0, Math.min), edge(1, Math.min)], [edge(2, Math.max), edge(3, Math.max)]);
});
action("stop", stopNow);
action("close", ({ id }) => {
  $(id).hidden = true;
  $("desk").focus();
});

// -- selecting

action("row", ({ id, within }, { event }) => {
  if (within && state.inside !== within) return member({ id, within });
  if (!within && state.inside) stepInside("");
  if (event?.shiftKey || event?.ctrlKey || event?.metaKey) {
    choose(state.chosen.includes(id) ? state.chosen.filter((c) => c !== id) : [...state.chosen, id]);
  } else choose([id]);
});
// A piece of a cut list or a photo in a frame is reached by editing inside.
function member({ id, within }) {
  if (state.inside !== within) stepInside(within);
  choose([id]);
}
action("member", member);
action("all", () => {
  const free = (g) => !("locked" in g.dataset) && !("hidden" in g.dataset);
  choose(
    holders()
      .flatMap((g) => [...g.children])
      .filter(free)
      .map((g) => g.dataset.id),
  );
});
action("step-inside", ({ id = state.chosen[0] }) => {
  if (!id) notice("Nothing is selected to open.", "Click a frame or an outline first.");
  else if (!stepInside(id)) {
    const back = state.undo?.startsWith("flatten ") ? ["Undo flatten", "undo", {}] : null;
    const way = "Put a photo in it, or combine it with another piece.";
    notice(`“${drawn(id)?.dataset.name}” has nothing inside.`, way, back);
  }
});
action("step-out", stepOut);
action("same-paint", () => {
  const paint = drawn(state.chosen[0])?.dataset.paint;
  if (!paint) return notice("Selecting similar needs a piece. None is selected.", "Click a piece first.");
  choose([...$("art").children].filter((g) => g.dataset.paint === paint).map((g) => g.dataset.id));
});
action("lying-inside", () => {
  const outer = drawn(state.chosen[0]);
  if (!outer) return notice("Select inside needs a piece. None is selected.", "Click a piece first.");
  const box = cornersOf(outer);
  const within = (g) => cornersOf(g).every((v, k) => (k < 2 ? v >= box[k] : v <= box[k]));
  const found = [...$("art").children].filter((g) => g !== outer && within(g));
  if (!found.length) return notice(`There is nothing inside “${outer.dataset.name}”.`);
  choose(found.map((g) => g.dataset.id));
});

// -- state that outlives a redrawn panel

const stateOf = (name) => (name === "details" ? "scaling" : name);
function keeps() {
  for (const [box, { name }] of actors("page:keep")) {
    box.checked = state[stateOf(name)];
  }
  const at = state.pivot ? `${state.pivot[0] * 2}${state.pivot[1] * 2}` : "";
  for (const [dot, args] of actors("page:pivot")) dot.setAttribute("aria-pressed", String(args.at === at));
  const part = drawn(state.inside)?.dataset.kind === "frame" ? "photo" : state.part;
  for (const [radio, { name }] of actors("page:part")) radio.checked = name === part;
  proportion();
}
// Photos always keep their proportion.
function proportion() {
  const tick = $("keep-proportion");
  if (!tick) return;
  tick.disabled = state.chosen.length > 0 && state.chosen.every((id) => drawn(id)?.dataset.kind === "photo");
  tick.checked = tick.disabled || state.proportion;
}
action("keep", ({ name, on: want }) => {
  change({ [stateOf(name)]: want });
  // Python computes where margins are measured from
  if (name === "basing") askPanels();
});
action("rename-project", async ({ name }) => {
  const answer = await rename(name);
  if (answer.error) {
    notice(answer.error, answer.remedy);
    $("project-name").value = $("project-name").defaultValue;
    return {};
  }
  document.title = document.title.replace($("project-name").defaultValue, answer.name);
  // the text typed there by then is the next name
  if (document.activeElement !== $("project-name")) $("project-name").value = answer.name;
  $("project-name").defaultValue = answer.name;
  document.querySelector("h1.name").title = answer.name;
  return answer;
});

action("pivot", ({ at }) => {
  const [fx, fy] = [Number(at[0]) / 2, Number(at[1]) / 2];
  const same = state.pivot && state.pivot[0] === fx && state.pivot[1] === fy;
  change({ pivot: same ? null : [fx, fy] }, "pivot");
  marks();
});
on("panels-shown", keeps);
on("pivot", keeps);
on("part", keeps);
on("inside", keeps);

function part(name) {
  change({ part: name }, "part");
}
// Only the photo moves inside its frame.
action("part", ({ name, id }) => {
  if (name === "photo") return stepInside(id);
  if (drawn(state.inside)?.dataset.kind === "frame") stepOut();
  part(name);
});
// The outline alone: a mode of Fit for one frame; it ends when either is left.
action("other-part", () => {
  const frame = state.station === "fit" && drawn(state.chosen[0])?.dataset.kind === "frame";
  if (!frame) return notice("The outline moves alone only at the Fit station.", "Go there with 3 and select a frame.");
  part(state.part === "outline" ? "both" : "outline");
});
let partOf = "";
function partBar() {
  const name = state.part === "outline" ? drawn(state.chosen[0])?.dataset.name || "" : "";
  $("part-bar").hidden = !name;
  $("part-bar").querySelector("span").textContent = `Moving the outline of ${name} alone`;
}
on("part", () => {
  partOf = state.chosen[0] || "";
  partBar();
});
onAny(["chosen", "station"], () => {
  if (state.part === "outline" && (state.station !== "fit" || state.chosen[0] !== partOf)) part("both");
});

// -- cutting

action("next-base", () => {
  // by the stack, and not by the cards, which may not have come yet
  const pieces = [...$("art").children]
    .filter((g) => state.chosen.includes(g.dataset.id) && g.dataset.kind !== "photo")
    .map((g) => g.dataset.id);
  if (state.station !== "cut" || pieces.length < 2) {
    return notice("There is no base to change.", "Select two pieces at the Cut station first.");
  }
  const now = [state.base, $("cards")?.dataset.base].find((id) => pieces.includes(id)) ?? pieces[0];
  change({ base: pieces[(pieces.indexOf(now) + 1) % pieces.length] });
  askPanels();
});
action("apart", ({ name, value }) => {
  change({ [name]: value });
  askPanels();
});

// -- copies

// Copying stores a reference to the items; the server looks it up, in this project or another one.
// the mark by which this program recognises its own copies
export const MARK = /(?:^|<!--)gouge (\d+) (\d+) ([\w,]+)(?:-->|$)/;

// The selection as SVG, from Python's drawing of it, for other programs; without photos.
function asSvg(mark) {
  const pieces = state.chosen
    .map(drawn)
    .flatMap((g) => (g?.dataset.outline ? [g] : [...(g?.querySelectorAll("[data-outline]") || [])]));
  if (!pieces.length) return "";
  const boxes = pieces.map(cornersOf);
  const [x0, y0] = [0, 1].map((k) => Math.min(...boxes.map((b) => b[k])));
  const [w, h] = [2, 3].map((k) => Math.max(...boxes.map((b) => b[k])) - (k === 2 ? x0 : y0));
  const { unit, perUnit } = state.surface;
  const paths = pieces.map((g) => {
    const [fill, stroke, width, opacity] = g.dataset.paint.split(" ");
    const rule = g.querySelector("[fill-rule=evenodd]") ? ' fill-rule="evenodd"' : "";
    return `<path d="${g.dataset.outline}" fill="${fill}" stroke="${stroke}" stroke-width="${width}" opacity="${opacity}"${rule}/>`;
  });
  const gradients = pieces.flatMap((g) => [...g.querySelectorAll("linearGradient, radialGradient")]);
  const size = `width="${w / perUnit}${unit}" height="${h / perUnit}${unit}" viewBox="${x0} ${y0} ${w} ${h}"`;
  return `<svg xmlns="http://www.w3.org/2000/svg" ${size}><!--${mark}-->${gradients.map((g) => g.outerHTML).join("")}${paths.join("")}</svg>`;
}
export function copied(event, cut) {
  if (!state.chosen.length) return;
  flush();
  const mark = `gouge ${state.project} ${state.revision} ${state.chosen.join(",")}`;
  event.clipboardData.setData("text/plain", asSvg(mark) || mark);
  event.preventDefault();
  if (cut) command("remove", { ids: state.chosen });
}
export function pasted(event) {
  const m = MARK.exec(event.clipboardData.getData("text/plain"));
  if (!m) return;
  event.preventDefault();
  const ids = m[3].split(",");
  const here = Number(m[1]) === state.project && ids.some((id) => drawn(id));
  // it goes on the sheet, whatever is being edited inside
  if (state.inside) stepInside("");
  command("paste", { project: Number(m[1]), revision: Number(m[2]), ids, shift: here, in_place: inPlace });
}
// Ctrl Shift V pastes in the same place
let inPlace = false;
document.addEventListener("keydown", (event) => {
  inPlace = event.shiftKey;
});
action("duplicate", async () => {
  const off = state.surface.aside;
  const answer = await command("duplicate", { ids: state.chosen });
  if (!answer.error)
    change({ copied: { ids: answer.chosen, matrix: [1, 0, 0, 1, off, off] }, step: [1, 0, 0, 1, off, off] });
  return answer;
});
action("copy-step", () => {
  if (!state.step) return notice("There is no copy to repeat yet.", "Drag one with Alt, or press Ctrl D and move it.");
  return command("duplicate", { ids: state.chosen, matrix: state.step });
});

// -- nudging: nudges in quick succession are one step, of the selection at the first one

let nudged = null;
function nudge(dx, dy) {
  if (!state.chosen.length) return;
  if (!nudged) {
    const { chosen: ids, part: its } = state;
    nudged = { ids, part: its, x: 0, y: 0, timer: 0, box: state.inside ? null : boxOf(ids) };
    nudged.release = defer(sendNudge);
  }
  // inside something nudges are free; elsewhere they go from one rounding step to the next
  const step = nudged.box ? state.surface.round : 0;
  for (const [axis, by, low] of [
    ["x", dx, nudged.box?.x0],
    ["y", dy, nudged.box?.y0],
  ]) {
    if (!by) continue;
    nudged[axis] += Math.sign(by) * Math.max(Math.abs(by), step);
    if (step) nudged[axis] += rounded(low + nudged[axis]);
  }
  [nudged.x, nudged.y] = clampedMove(nudged.ids, nudged.x, nudged.y);
  clearTimeout(nudged.timer);
  const shift = `translate(${nudged.x} ${nudged.y})`;
  for (const id of nudged.ids) {
    drawn(id)?.setAttribute("transform", shift);
    document.querySelector(`#art g[data-photo="${CSS.escape(id)}"]`)?.setAttribute("transform", shift);
  }
  nudged.timer = setTimeout(flush, 250);
}
function sendNudge(leaving) {
  if (!nudged) return;
  const { ids, part: its, x, y, timer } = nudged;
  clearTimeout(timer);
  nudged = null;
  const args = { ids, matrix: [1, 0, 0, 1, x, y], part: its, verb: "nudge" };
  if (leaving) leave("transform", args);
  else command("transform", args);
}
action("nudge", ({ x, y }) => {
  if (state.tool === "nodes") emit("nudge-nodes", { x, y });
  else nudge(x, y);
});
addEventListener("pagehide", () => flush(true));
// a window that comes to the front is updated
addEventListener("focus", catchUp);
document.addEventListener("visibilitychange", () => {
  if (!document.hidden) catchUp();
});

// -- renaming, by double-clicking a row

document.addEventListener("dblclick", (event) => {
  const button = event.target.closest(".row-item");
  if (!button) return;
  const id = button.id.slice(4);
  const item = drawn(id);
  const name = document.createElement("input");
  name.className = "number";
  name.value = item?.dataset.name || "";
  name.setAttribute("aria-label", "New name");
  button.replaceWith(name);
  name.focus();
  name.select();
  let done = false;
  const finish = async (keep) => {
    if (done) return;
    done = true;
    name.replaceWith(button);
    $("desk").focus();
    if (keep && name.value !== item.dataset.name) await command("rename", { id, name: name.value });
  };
  name.addEventListener("blur", () => finish(true));
  name.addEventListener("keydown", (press) => {
    if (press.key === "Enter" || press.key === "Escape") {
      press.stopPropagation();
      finish(press.key === "Enter");
    }
  });
});
