// One attribute binds a button, a field or a form to its action: data-act='["name", {args}]'.
// A name that begins with "page:" is an action of the page, registered by `action`; any other is a command.
// Words in the arguments that begin with $ are replaced when the action runs:
//   $chosen $first $base $part $pivot $proportion $scaling $keep $neighbours $parts   the state
//   $nodes $tool-details                values of other modules, registered by `know`
//   $value $on $yes                     the field's value; a switch, inverted; a tick as yes or no
//   $field:NAME $submit                 a field of the form, and the value of the button that submitted it
//   #ID                                 the value of the field with that id
import { notice } from "./notices.js";
import { command, idle } from "./server.js";
import { $, drawn, state, emit } from "./state.js";
import { step, workName } from "./work.js";

// The pivot on the sheet, if one was set: the middle of a ring of copies.
function pivotPlace() {
  if (!state.pivot || state.chosen.length !== 1) return null;
  const [w, h, a, b, c, d, e, f] = drawn(state.chosen[0]).dataset.frame.split(" ").map(Number);
  const [x, y] = [state.pivot[0] * w, state.pivot[1] * h];
  return [a * x + c * y + e, b * x + d * y + f];
}

const actions = new Map();
const known = new Map([
  ["$chosen", () => state.chosen],
  ["$first", () => state.chosen[0] || ""],
  ["$base", () => state.base],
  ["$part", () => state.part],
  ["$pivot", () => state.pivot],
  ["$proportion", () => state.proportion],
  ["$scaling", () => state.scaling],
  ["$keep", () => state.keep],
  ["$neighbours", () => state.neighbours],
  ["$parts", () => state.parts],
  ["$margin-of", () => (state.basing ? "base" : "border")],
  ["$margin-how", () => (state.resizing ? "resize" : "move")],
  ["$pivot-place", () => pivotPlace()],
]);

export const action = (name, run) => actions.set(`page:${name}`, run);
/** @typedef {{ element?: any, form?: any, submitter?: any, event?: Event }} From where an action was asked for */

export const defineWord = (word, value) => known.set(word, value);

export const parsed = (element) => JSON.parse(element.dataset.act);

/**
 * The value of a word in an action's arguments.
 *
 * @param {any} word
 * @param {From} from
 * @returns {any}
 */
function meant(word, { element, form, submitter }) {
  if (typeof word !== "string") return word;
  if (word.startsWith("#")) {
    const field = $(word.slice(1));
    return field?.type === "checkbox" ? field.checked : meant(field?.value ?? "", {});
  }
  if (!word.startsWith("$")) return word;
  if (word === "$value") return element.value;
  if (word === "$yes") return element.checked ? "yes" : "no";
  if (word === "$on") return "checked" in element ? element.checked : element.getAttribute("aria-pressed") !== "true";
  if (word === "$submit") return submitter?.value ?? "";
  if (word.startsWith("$field:")) return form.elements[word.slice(7)].value;
  return known.has(word) ? known.get(word)() : word;
}

const isWord = (value) => typeof value === "string" && /^[$#]/.test(value);
/**
 * An action's arguments with all words replaced.
 *
 * @param {object} args
 * @param {From} [from]
 */
export const resolved = (args, from = {}) =>
  Object.fromEntries(Object.entries(args).map(([name, value]) => [name, isWord(value) ? meant(value, from) : value]));

// Undo within the mode first; only when nothing is left to undo there, leave the mode and undo the project's steps.
async function undone(name, args, options) {
  // what was accepted a moment ago is no longer part of the mode
  await idle();
  // and the code that awaits that answer runs first
  await new Promise((then) => setTimeout(then));
  const left = workName();
  const how = step(name === "undo" ? -1 : 1);
  if (how === "done") return null;
  if (how === "over") actions.get("page:tool")({ name: "choose" }, {});
  // past the end there is nothing to ask for
  if (!state[name]) return null;
  const answer = await command(name, args, options);
  if (how === "over") notice(`${left} was left.`, "Undo went on to the project's last step.");
  return answer;
}

// Run an action; resolves to the answer of a command, or to the result of a page action.
export function perform([name, args], from = {}, options = {}) {
  const all = resolved(args, from);
  const run = actions.get(name);
  if (run) return run(all, from);
  if (name === "undo" || name === "redo") return undone(name, all, options);
  return command(name, all, options);
}

export const FIELDS = "input[data-act], select[data-act], textarea[data-act]";

// The elements that run `name` with these arguments, to show which is on.
export function* actors(name) {
  // the attribute is JSON that begins with the name (studio_tags.py)
  for (const element of document.querySelectorAll(`[data-act^='["${name}"']`)) yield [element, parsed(element)[1]];
}

document.addEventListener("click", (event) => {
  const element = event.target.closest("[data-act]");
  if (!element || element.matches(FIELDS) || element.matches("form")) return;
  press(parsed(element), { element, event });
});

// A button may read fields by their ids: an error in one is shown there.
async function press(does, from) {
  const read = Object.entries(does[1]).filter(([, value]) => typeof value === "string" && value.startsWith("#"));
  if (!read.length) return perform(does, from);
  const answer = await perform(does, from, { quiet: true });
  if (!answer?.error || answer.failed) return answer;
  const own =
    read.find(([name]) => name === answer.field) || (["ids", "id", ""].includes(answer.field) ? null : read[0]);
  emit("refused-field", { id: own?.[1].slice(1), answer });
  return answer;
}
