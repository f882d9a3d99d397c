// Number and colour fields, the draw forms, delivery: what is wrong is said at the field, and the old value is kept.
import { tool } from "./gestures.js";
import { boxArgs } from "./drawing.js";
import { command } from "./server.js";
import { details, setting, target } from "./settings.js";
import { notice } from "./hints.js";
import { progress, stoppable } from "./progress.js";
import { $, on, state } from "./state.js";
import { toDesk } from "./view.js";

function complain(input, answer, place) {
  answer.placed = true;
  input?.classList.add("is-invalid");
  const words = `${answer.error} ${answer.remedy || ""}`;
  let error = place || input.closest("label, .paint-row")?.parentNode.querySelector(":scope > .field-error");
  if (!error) {
    error = document.createElement("p");
    error.className = "field-error";
    error.setAttribute("role", "alert");
    (input.closest(".gauge, .paint-row, .reshape") || input).after(error);
  }
  error.hidden = false;
  error.textContent = words;
  if (input) {
    error.id ||= `error-${Math.random().toString(36).slice(2)}`;
    input.setAttribute("aria-describedby", error.id);
    input.setAttribute("aria-invalid", "true");
    input.focus();
    input.select?.();
  }
}

function settled(scope) {
  for (const input of scope.querySelectorAll(".is-invalid")) {
    input.classList.remove("is-invalid");
    input.removeAttribute("aria-invalid");
    input.removeAttribute("aria-describedby");
  }
  for (const error of scope.querySelectorAll(".field-error")) error.hidden = true;
}

async function set(input, name, args, old) {
  settled(input.closest("section, aside, form"));
  const answer = await command(name, args, { quiet: true });
  if (answer.error) delete input.dataset.sent;
  if (answer.error && !answer.failed && !answer.conflict) {
    complain(input, answer);
    if (old !== undefined) input.dataset.kept = old;
  }
}

// the value a field had when it was entered, to put back on Escape
document.addEventListener("focusin", (event) => {
  if (event.target.matches?.(".number") && !event.target.dataset.kept) event.target.dataset.kept = event.target.value;
});
document.addEventListener("keydown", (event) => {
  const input = event.target;
  if (!input.matches?.(".number")) return;
  if (event.key === "Escape" && input.dataset.kept) input.value = input.dataset.kept;
  if (event.key === "Enter" && !input.closest("form")) input.dispatchEvent(new Event("change", { bubbles: true }));
});
document.addEventListener("change", (event) => {
  const input = event.target;
  if (!input.dataset) return;
  const { measure, paint } = input.dataset;
  if (!measure && !paint && !("backdrop" in input.dataset)) return;
  // Enter sends, and leaving the field would send the same again
  if (input.value === input.dataset.sent || (measure && input.value === input.dataset.kept)) return;
  input.dataset.sent = input.value;
  const kept = { keep_proportion: state.keep.proportion, about: state.pivot, details: state.keep.details };
  if (measure) set(input, "measure", { ids: state.chosen, field: measure, value: input.value, part: state.part, ...kept }, input.dataset.kept);
  else if (paint) set(input, "paint", { ids: state.chosen, field: paint, value: input.value });
  else set(input, "backdrop", { value: input.value });
});

// -- the details of a shape
document.addEventListener("change", (event) => {
  const input = event.target;
  const field = input.dataset?.detail;
  if (!field) return;
  const value = input.type === "checkbox" ? (input.checked ? "yes" : "no") : input.value;
  if (input.type !== "checkbox" && (value === input.dataset.sent || value === input.dataset.kept)) return;
  input.dataset.sent = value;
  set(input, "set_detail", { ids: state.chosen, field, value }, input.dataset.kept);
});
// kerning: the pair at the cursor, by tens of a thousandth
document.addEventListener("keydown", (event) => {
  const input = event.target;
  if (input.dataset?.detail !== "text" || !event.altKey || !["ArrowLeft", "ArrowRight"].includes(event.key)) return;
  event.preventDefault();
  const by = (event.key === "ArrowLeft" ? -1 : 1) * (event.shiftKey ? 50 : 10);
  command("kern", { id: state.chosen[0], at: input.selectionStart - 1, by: String(by) });
});
// -- lettering at the pointer
let letterAt = null;
on("letter", (at) => {
  letterAt = at;
  const form = $("letter");
  const p = toDesk(at);
  const desk = $("desk").getBoundingClientRect();
  form.style.left = `${Math.max(26, Math.min(desk.width - 210, p.x))}px`;
  form.style.top = `${Math.max(26, Math.min(desk.height - 210, p.y))}px`;
  settled(form);
  form.hidden = false;
  form.elements.text.focus();
  form.elements.text.select();
});
document.addEventListener("submit", async (event) => {
  const form = event.target;
  if (form.id !== "letter") return;
  event.preventDefault();
  settled(form);
  const args = { text: form.elements.text.value, font: setting("font"), size: setting("size"), x: letterAt.x, y: letterAt.y, ...target() };
  const answer = await command("draw_lettering", args, { quiet: true });
  if (answer.error && !answer.failed) return complain(form.elements.text, answer, form.querySelector(".field-error"));
  form.hidden = true;
  $("desk").focus();
  tool("choose");
});

// -- margins of a hole, and reshaping by numbers
document.addEventListener("change", (event) => {
  const input = event.target;
  const side = input.dataset?.margin;
  if (!side || input.value === input.dataset.sent || input.value === input.dataset.kept) return;
  input.dataset.sent = input.value;
  const at = input.closest("[data-hole]").dataset;
  set(input, "set_margin", { id: at.id, hole: Number(at.hole), side, value: input.value });
});
document.addEventListener("click", async (event) => {
  const button = event.target.closest("[data-reshape]");
  if (!button) return;
  const box = button.closest(".reshape");
  const { reshape: kind, how } = button.dataset;
  const input = box.querySelector(`input[name="${kind}"]`);
  settled(box);
  const args = how === "offset" ? { distance: input.value } : { kind, value: input.value };
  const answer = await command(how, { id: box.dataset.id, ...args }, { quiet: true });
  if (answer.error && ["distance", "radius", "tolerance", "size", "value"].includes(answer.field)) complain(input, answer);
  else if (answer.error && !answer.failed) notice(answer.error, answer.remedy);
});

// -- finishes of a cut list
document.addEventListener("change", (event) => {
  const input = event.target;
  if (!("finishValue" in (input.dataset || {})) || input.value === input.dataset.sent) return;
  input.dataset.sent = input.value;
  const args = { id: input.closest("[data-cuts]").dataset.cuts, number: Number(input.closest("[data-finish]").dataset.finish) };
  set(input, "set_finish", { ...args, value: input.value }, input.dataset.kept);
});

// -- by numbers, in the drawer
document.addEventListener("submit", async (event) => {
  const form = event.target;
  if (form.id === "by-numbers") {
    event.preventDefault();
    settled(form);
    const value = (name) => form.elements[name].value;
    const kind = event.submitter?.value || "rectangle";
    const args = { kind, x: value("x"), y: value("y"), width: value("width"), height: value("height") };
    const answer = await command("draw", { ...args, details: details(kind) }, { quiet: true });
    if (answer.error && !answer.failed) complain(form.elements[answer.field], answer, form.querySelector(".field-error"));
  }
  if (form.id === "exact") {
    event.preventDefault();
    settled(form);
    const answer = await command("draw", { ...boxArgs(exact.kind), x: exact.x, y: exact.y, width: form.elements.width.value, height: form.elements.height.value }, { quiet: true });
    if (answer.error && !answer.failed) complain(form.elements[answer.field], answer, form.querySelector(".field-error"));
    else {
      form.hidden = true;
      $("desk").focus();
      tool("choose");
    }
  }
  if (form.id === "deliver") {
    event.preventDefault();
    deliver(form, event.submitter?.value || "png");
  }
});

// -- exact numbers at the pointer
let exact = null;
on("exact", ({ kind, at }) => {
  const form = $("exact");
  exact = { kind, x: at.x, y: at.y };
  const p = toDesk(at);
  const desk = $("desk").getBoundingClientRect();
  form.style.left = `${Math.max(26, Math.min(desk.width - 200, p.x))}px`;
  form.style.top = `${Math.max(26, Math.min(desk.height - 190, p.y))}px`;
  form.querySelector("h2").textContent = kind === "ready" ? "Ready outline" : kind[0].toUpperCase() + kind.slice(1);
  settled(form);
  form.hidden = false;
  form.elements.width.focus();
  form.elements.width.select();
});

// -- delivery
function size() {
  const form = $("deliver");
  if (!form) return;
  const target = form.querySelector("input[name=what]:checked");
  const share = Number(form.elements.resolution.value) / Number(form.elements.resolution.dataset.sheet);
  const words = $("d-size");
  if (!target?.dataset.w || !(share > 0)) words.textContent = "";
  else words.textContent = `${Math.ceil(target.dataset.w * share - 0.01)} × ${Math.ceil(target.dataset.h * share - 0.01)} px`;
}
document.addEventListener("input", (event) => {
  if (event.target.closest("#deliver")) size();
});
on("panels-shown", size);

async function deliver(form, format) {
  settled(form);
  const query = new URLSearchParams({
    format,
    what: form.querySelector("input[name=what]:checked")?.value || "sheet",
    resolution: form.elements.resolution.value,
  });
  const { signal } = stoppable();
  progress(`Making the ${format.toUpperCase()}`, null);
  try {
    const response = await fetch(`${state.urls.deliver}?${query}`, { signal });
    if (!response.ok) {
      const answer = await response.json();
      complain(answer.field === "resolution" ? form.elements.resolution : null, answer, form.querySelector(".field-error"));
      return;
    }
    const link = document.createElement("a");
    link.href = URL.createObjectURL(await response.blob());
    link.download = /filename="([^"]+)"/.exec(response.headers.get("Content-Disposition"))?.[1] || `gouge.${format}`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 60000);
  } catch (error) {
    if (error.name !== "AbortError") notice("The server does not answer.", "Try again in a moment.");
  } finally {
    progress(null);
  }
}
