// Lettering starts at the pointer, and is kerned in its field.
import { ask } from "../core/http.js";
import { action, defineWord } from "../core/act.js";
import { clearForm } from "../panels/fields.js";
import { latest } from "../core/queue.js";
import { command, flush, defer } from "../core/server.js";
import { drawnAs, setting } from "./settings.js";
import { $, inHand, on, state } from "../core/state.js";
import { toDesk, view } from "../core/view.js";

let at = null;
on("letter", (place) => {
  at = place;
  openAt($("letter"), place, $("letter").elements.text);
});

// Show a form at a point of the sheet, within the desk; a lettering's own point is below its baseline.
export function openAt(form, place, first) {
  const p = toDesk(place);
  if (form.id === "letter") p.y += 12;
  const desk = $("desk").getBoundingClientRect();
  clearForm(form);
  form.hidden = false;
  const { offsetWidth: w, offsetHeight: h } = form;
  form.style.left = `${Math.max(26, Math.min(desk.width - w - 8, p.x))}px`;
  form.style.top = `${Math.max(26, Math.min(desk.height - h - 8, p.y))}px`;
  first.focus();
  first.select();
}

action("draw-letter", async ({ text }) => {
  const done = inHand();
  const args = { text, font: setting("font"), size: setting("size"), x: at.x, y: at.y, ...drawnAs() };
  const answer = await command("draw_lettering", args, { quiet: true });
  if (answer.error) return answer;
  $("letter").hidden = true;
  $("letter").elements.text.value = "";
  $("desk").focus();
  done();
  return answer;
});

// -- kerning: the pair at the cursor, by tens of a thousandth; presses in a row are one step

let kerned = null;
const pairAt = () => $("d-text")?.selectionStart - 1;

function sendKern() {
  if (!kerned) return;
  const { id, at: pair, by, timer } = kerned;
  clearTimeout(timer);
  kerned = null;
  command("kern", { id, at: pair, by: String(by) });
}
document.addEventListener("keydown", (event) => {
  const input = event.target;
  if (input.id !== "d-text" || !event.altKey || !["ArrowLeft", "ArrowRight"].includes(event.key)) return;
  event.preventDefault();
  const by = (event.key === "ArrowLeft" ? -1 : 1) * (event.shiftKey ? 50 : 10);
  if (kerned && kerned.at !== pairAt()) flush();
  if (!kerned) {
    kerned = { id: state.chosen[0], at: pairAt(), by: 0, timer: 0 };
    defer(sendKern);
  }
  kerned.by += by;
  clearTimeout(kerned.timer);
  kerned.timer = setTimeout(flush, 400);
  showPair();
});

// The pair's value has its own field, where it can be typed and reset.
function showPair() {
  const [input, field] = [$("d-text"), $("kern-value")];
  if (!input || !field) return;
  const pair = pairAt();
  const letters = input.value.slice(pair, pair + 2);
  const is = pair >= 0 && letters.length === 2 && !letters.includes("\n");
  const kerns = new Map(JSON.parse(field.dataset.kerns));
  const value = (kerns.get(pair) || 0) + (kerned?.at === pair ? kerned.by : 0);
  $("kern-pair").textContent = is ? `Kern “${letters}”` : "Kern";
  field.disabled = !is;
  if (document.activeElement !== field) field.value = is ? String(value) : "";
  field.dataset.pair = pair;
}
defineWord("$pair", () => Number($("kern-value").dataset.pair));
document.addEventListener("selectionchange", () => {
  if (document.activeElement?.id === "d-text") showPair();
});
on("panels-shown", showPair);

// -- a lettering shows on the sheet while it is typed

const typing = latest(async ({ text, place }) => {
  const query = new URLSearchParams({ kind: "lettering", text, font: setting("font"), size: setting("size") });
  const { d, error } = await ask(`${state.urls.template}?${query}`);
  // it may have been placed by now
  if (error || $("letter").hidden) return;
  const p = toDesk(place);
  if (!d) {
    // spaces, or letters that the font lacks
    $("letter-marks").innerHTML = "";
    return;
  }
  $("letter-marks").innerHTML =
    `<path class="drawing" d="${d}" transform="matrix(${view.zoom} 0 0 ${view.zoom} ${p.x} ${p.y})"/>`;
  aside($("letter"), $("letter-marks").getBoundingClientRect());
});

// Move a form that covers `box` below it, or above it if there is no room.
function aside(form, box) {
  const desk = $("desk").getBoundingClientRect();
  const { height } = form.getBoundingClientRect();
  const room = box.bottom - desk.top + 8;
  const top = room + height + 8 <= desk.height ? room : Math.max(26, box.top - desk.top - height - 8);
  form.style.top = `${top}px`;
}
document.addEventListener("input", (event) => {
  if (event.target.form?.id !== "letter") return;
  if (event.target.value.trim()) typing({ text: event.target.value, place: at });
  else $("letter-marks").innerHTML = "";
});
new MutationObserver(() => {
  if ($("letter").hidden) $("letter-marks").innerHTML = "";
}).observe($("letter"), { attributeFilter: ["hidden"] });
