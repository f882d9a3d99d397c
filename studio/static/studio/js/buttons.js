// Buttons that Python drew, by what their data says.
import { choose, combine, deeds, part, see, station, tool } from "./deeds.js";
import { stepInside } from "./choose.js";
import { stopNow } from "./photos.js";
import { askPanels, command } from "./server.js";
import { $, drawn, state } from "./state.js";

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
  else if (data.add) command("add_steps", { ids: state.chosen, operation: data.add });
  else if (button.closest(".step-tools")) step(button);
  else if ("even" in data) {
    const at = button.closest("[data-hole]").dataset;
    command("set_margin", { id: at.id, hole: Number(at.hole), side: "even" });
  }
  else if (data.do === "close-exact") {
    $("exact").hidden = true;
    $("desk").focus();
  } else if (data.do === "stop") stopNow();
  else if (data.do) deeds[data.do]?.(button);
});

// -- the cut list: every step can be switched, moved and taken out

const place = (element) => ({
  id: element.closest("[data-cuts]").dataset.cuts,
  number: Number(element.closest("[data-number]").dataset.number),
});

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
let dragged = null;
document.addEventListener("dragstart", (event) => {
  const item = event.target.closest?.(".step");
  if (!item) return;
  dragged = place(item);
  event.dataTransfer.effectAllowed = "move";
  event.dataTransfer.setData("text/plain", String(dragged.number));
});
document.addEventListener("dragover", (event) => {
  if (!dragged) return;
  const item = event.target.closest?.(".step");
  for (const other of document.querySelectorAll(".step.over")) if (other !== item) other.classList.remove("over");
  if (!item) return;
  event.preventDefault();
  item.classList.add("over");
});
document.addEventListener("drop", (event) => {
  const item = dragged && event.target.closest?.(".step");
  if (!item) return;
  event.preventDefault();
  const to = place(item).number;
  if (to !== dragged.number) command("move_step", { ...dragged, to });
  dragged = null;
});
document.addEventListener("dragend", () => {
  dragged = null;
  for (const item of document.querySelectorAll(".step.over")) item.classList.remove("over");
});

function row(button, event) {
  const { row: id, within } = button.dataset;
  if (within) {
    // a photo in a frame is reached by stepping inside
    if (state.inside !== within) stepInside(within);
    choose([id]);
    return;
  }
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
