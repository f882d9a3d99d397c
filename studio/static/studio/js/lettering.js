// Lettering is begun at the pointer, and kerned in its field.
import { deed } from "./act.js";
import { clearForm } from "./fields.js";
import { tool } from "./gestures.js";
import { command } from "./server.js";
import { setting, target } from "./settings.js";
import { $, on, state } from "./state.js";
import { toDesk } from "./view.js";

let at = null;
on("letter", (place) => {
  at = place;
  openAt($("letter"), place, $("letter").elements.text);
});

// Show a form at a place of the sheet, within the desk.
export function openAt(form, place, first) {
  const p = toDesk(place);
  const desk = $("desk").getBoundingClientRect();
  clearForm(form);
  form.hidden = false;
  const { offsetWidth: w, offsetHeight: h } = form;
  form.style.left = `${Math.max(26, Math.min(desk.width - w - 8, p.x))}px`;
  form.style.top = `${Math.max(26, Math.min(desk.height - h - 8, p.y))}px`;
  first.focus();
  first.select();
}

deed("draw-letter", async ({ text }) => {
  const args = { text, font: setting("font"), size: setting("size"), x: at.x, y: at.y, ...target() };
  const answer = await command("draw_lettering", args, { quiet: true });
  if (answer.error) return answer;
  $("letter").hidden = true;
  $("letter").elements.text.value = "";
  $("desk").focus();
  tool("choose");
  return answer;
});

// kerning: the pair at the cursor, by tens of a thousandth
document.addEventListener("keydown", (event) => {
  const input = event.target;
  if (input.id !== "d-text" || !event.altKey || !["ArrowLeft", "ArrowRight"].includes(event.key)) return;
  event.preventDefault();
  const by = (event.key === "ArrowLeft" ? -1 : 1) * (event.shiftKey ? 50 : 10);
  command("kern", { id: state.chosen[0], at: input.selectionStart - 1, by: String(by) });
});
