// Buttons that Python drew, by what their data says.
import { choose, combine, deeds, lines, part, see, station, tool } from "./deeds.js";
import * as cells from "./cells.js";
import { marks, stepInside } from "./choose.js";
import { stopNow } from "./progress.js";
import { askPanels, command } from "./server.js";
import { $, drawn, on, state } from "./state.js";

const ONES = { restack: deeds.restack, settle: (how) => command("settle", { ids: state.chosen, how }) };

document.addEventListener("click", (event) => {
  const button = event.target.closest("button");
  if (!button) return;
  const data = button.dataset;
  if (data.station) station(data.station);
  else if (data.tool) tool(data.tool);
  else if (data.combine) combine(data.combine);
  else if (data.command) command(data.command, { id: data.id });
  else if (data.base) {
    state.base = data.base;
    askPanels();
  } else if (data.paintNone) command("paint", { ids: state.chosen, field: data.paintNone, value: "none" });
  else if ("backdropNone" in data) command("backdrop", { value: "none" });
  else if (data.restack) ONES.restack(data.restack);
  else if (data.settle) ONES.settle(data.settle);
  else if (data.row) row(button, event);
  else if (data.member) member(data);
  else if (data.add) command("add_steps", { ids: state.chosen, operation: data.add });
  else if (button.closest(".finish")) finish(button);
  else if (button.closest(".step-tools")) step(button);
  else if ("even" in data) {
    const at = button.closest("[data-hole]").dataset;
    command("set_margin", { id: at.id, hole: Number(at.hole), side: "even" });
  }
  else if (data.mark) command("mark", { ids: [data.id], field: data.mark, on: button.getAttribute("aria-pressed") !== "true" });
  else if (data.align) align(data.align);
  else if (data.space) command("space", { ids: state.chosen, axis: data.space, gap: $("space-gap").value });
  else if (data.flip) command("flip", { ids: state.chosen, way: data.flip, part: state.part });
  else if (data.pivot) {
    const at = [Number(data.pivot[0]) / 2, Number(data.pivot[1]) / 2];
    const same = state.pivot && state.pivot[0] === at[0] && state.pivot[1] === at[1];
    state.pivot = same ? null : at;
    keeps();
    marks();
  }
  else if (data.do === "accept-cells") cells.accept();
  else if (data.do === "drop-cells") tool("choose");
  else if (data.do === "close-letter") {
    $("letter").hidden = true;
    $("desk").focus();
  }
  else if (data.do === "close-exact") {
    $("exact").hidden = true;
    $("desk").focus();
  } else if (data.do === "stop") stopNow();
  else if (data.do) deeds[data.do]?.(button);
});

function align(side) {
  const where = $("align-to").value;
  command("align", { ids: state.chosen, side, to: where === "first" ? state.chosen[0] || "" : where });
}

// What the page keeps of the gauge through every new panel: the pivot, proportion, scaling, snapping.
function keeps() {
  for (const box of document.querySelectorAll("[data-keep]")) box.checked = state.keep[box.dataset.keep];
  const at = state.pivot ? `${state.pivot[0] * 2}${state.pivot[1] * 2}` : "";
  for (const dot of document.querySelectorAll("[data-pivot]")) dot.setAttribute("aria-pressed", String(dot.dataset.pivot === at));
}
on("panels-shown", keeps);
on("pivot", keeps);
document.addEventListener("change", (event) => {
  const { keep } = event.target.dataset || {};
  if (keep) state.keep[keep] = event.target.checked;
  if ("lines" in (event.target.dataset || {})) lines(event.target.checked);
});

// -- the cut list: every step can be switched, moved and taken out

export const place = (element) => ({
  id: element.closest("[data-cuts]").dataset.cuts,
  number: Number(element.closest("[data-number]").dataset.number),
});

function finish(button) {
  const at = { id: button.closest("[data-cuts]").dataset.cuts, number: Number(button.closest("[data-finish]").dataset.finish) };
  const { finishSwitch } = button.dataset;
  command("set_finish", finishSwitch ? { ...at, on: finishSwitch === "on" } : { ...at, drop: true });
}

function step(button) {
  const at = place(button);
  const data = button.dataset;
  if (data.switch) command("switch_step", at);
  else if (data.shift) command("move_step", { ...at, to: at.number + Number(data.shift) });
  else if ("drop" in data) command("drop_step", at);
}

document.addEventListener("change", (event) => {
  if (event.target.dataset?.step) command("set_step", { ...place(event.target), operation: event.target.value });
});

// A piece of a cut list or a photo in a frame is reached by stepping inside.
function member({ member: id, within }) {
  if (state.inside !== within) stepInside(within);
  choose([id]);
}

function row(button, event) {
  const { row: id, within } = button.dataset;
  if (within) return member({ member: id, within });
  if (state.inside) stepInside("");
  if (event.shiftKey || event.ctrlKey || event.metaKey) {
    choose(state.chosen.includes(id) ? state.chosen.filter((c) => c !== id) : [...state.chosen, id]);
  } else choose([id]);
}

document.addEventListener("dblclick", (event) => {
  const button = event.target.closest("[data-row]");
  if (!button) return;
  const item = drawn(button.dataset.row);
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
    if (keep && name.value !== item.dataset.name) await command("rename", { id: button.dataset.row, name: name.value });
  };
  name.addEventListener("blur", () => finish(true));
  name.addEventListener("keydown", (press) => {
    if (press.key === "Enter") finish(true);
    if (press.key === "Escape") finish(false);
  });
});
document.addEventListener("change", (event) => {
  if (event.target.name === "part") part(event.target.value);
  if ("see" in event.target.dataset) see(event.target.checked);
});
