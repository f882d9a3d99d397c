// All fields behave alike: a field sends once, on Enter or when left; Enter returns the keyboard to
// the sheet; a refused value stays, with a mark and the reason, until it is right; Escape restores the old one.
import { FIELDS, parsed, perform } from "../core/act.js";
import { notice } from "../core/notices.js";
import { $, on, state } from "../core/state.js";

const said = new WeakMap(); // field -> the value it had when it was entered, or that was sent last
const right = new WeakMap(); // field -> the last value that was right, to put back on Escape
const wrong = new Map(); // id of a field -> { value, words, chosen }: what was refused, through every new panel
const typed = (input) => input.matches("input:not([type]), input[type=text], textarea, .number:not(select)");

function mark(input, words, place) {
  let error = place || (input && $(`${input.id}-error`));
  if (!error && input) {
    error = document.createElement("p");
    error.className = "field-error";
    error.id = `${input.id}-error`;
    error.setAttribute("role", "alert");
    const holder =
      input.closest(".dimensions, .details, .fields, .paint-row, .pane-fields, .reshape, .step, li") || input;
    holder.after(error);
  }
  if (!error) return notice(words);
  error.hidden = false;
  error.textContent = words;
  if (!input) return;
  input.classList.add("is-invalid");
  input.setAttribute("aria-invalid", "true");
  if (error.id) input.setAttribute("aria-describedby", error.id);
}

function clear(input) {
  input.classList.remove("is-invalid");
  input.removeAttribute("aria-invalid");
  if (input.getAttribute("aria-describedby") === `${input.id}-error`) input.removeAttribute("aria-describedby");
  if (!wrong.has(input.id)) $(`${input.id}-error`)?.remove();
}

function clearForm(form) {
  for (const input of form.querySelectorAll(".is-invalid")) clear(input);
  for (const error of form.querySelectorAll(".field-error")) error.hidden = true;
}

// A typed value may have been rounded: the field shows the result, even if nothing moved.
function became(id, value) {
  requestAnimationFrame(() => {
    const now = id && $(id);
    if (!now || now === document.activeElement || now.value !== value || parsed(now)[0].startsWith("page:")) return;
    now.value = now.defaultValue;
  });
}

// Send a field's value, unless it was sent already.
async function send(input) {
  // a picked value, unlike a typed one, fires only once
  const plain = input.matches("select, [type=checkbox], [type=radio], [type=color]");
  if (!plain) {
    const value = input.value;
    if (said.get(input) === value) return;
    if ("empties" in input.dataset && !value.trim()) return;
    said.set(input, value);
  }
  const value = input.value;
  const had = wrong.delete(input.id);
  if (had) clear(input);
  const answer = await perform(parsed(input), { element: input }, { quiet: true });
  if (!answer?.error) {
    if ("empties" in input.dataset) input.value = "";
    else if (typed(input) && !input.matches("textarea")) became(input.id, value);
    return;
  }
  if (answer.failed || answer.stopped) {
    said.delete(input);
    return;
  }
  // the typed text is not lost, and can be sent again as it is
  const words = `${answer.error} ${answer.remedy || ""}`.trim();
  const now = (input.id && $(input.id)) || input;
  wrong.set(input.id, { value, words, chosen: state.chosen.join() });
  said.delete(now);
  if (now.isConnected) {
    if (typed(now)) now.value = value;
    mark(now, words);
    if (document.activeElement === $("desk") || document.activeElement === document.body) {
      now.focus();
      now.select?.();
    }
  } else notice(answer.error, answer.remedy);
}

document.addEventListener("focusin", (event) => {
  const input = event.target;
  if (!input.matches?.(".number, .form-control")) return;
  if (!wrong.has(input.id)) {
    said.set(input, input.value);
    right.set(input, input.value);
  }
  if (typed(input) && !input.matches("textarea")) input.select();
});
document.addEventListener("change", (event) => {
  if (event.target.matches?.(FIELDS)) send(event.target);
});
document.addEventListener("keydown", (event) => {
  const input = event.target;
  if (!input.matches?.(".number, .form-control")) return;
  if (event.key === "Escape") {
    if (input.closest(".exact")) return;
    if (right.has(input) && typed(input)) input.value = right.get(input);
    said.set(input, input.value);
    if (wrong.delete(input.id)) clear(input);
    $("desk").focus();
    event.stopPropagation();
  } else if (event.key === "Enter" && input.matches("textarea")) {
    if (!event.ctrlKey && !event.metaKey) return;
    event.preventDefault();
    if (input.form) input.form.requestSubmit();
    else $("desk").focus();
  } else if (event.key === "Enter" && !input.form) {
    event.preventDefault();
    if (input.matches(FIELDS)) send(input);
    $("desk").focus();
  }
});

// A button that reads a field: errors are shown at the field.
on("refused-field", ({ id, answer }) => {
  const input = id && $(id);
  if (!input) return notice(answer.error, answer.remedy);
  wrong.set(id, {
    value: input.value,
    words: `${answer.error} ${answer.remedy || ""}`.trim(),
    chosen: state.chosen.join(),
  });
  mark(input, wrong.get(id).words);
  input.focus();
  input.select?.();
});
document.addEventListener("input", (event) => {
  // a field without a command of its own loses its mark as soon as it is changed
  if (!event.target.matches?.(FIELDS) && wrong.delete(event.target.id)) clear(event.target);
});

// Forms: run their data-act, and show an error at its field.
document.addEventListener("submit", async (event) => {
  const form = event.target;
  if (!form.dataset?.act) return;
  event.preventDefault();
  clearForm(form);
  const answer = await perform(parsed(form), { element: form, form, submitter: event.submitter }, { quiet: true });
  if (!answer?.error || answer.failed) return;
  const input = form.elements[answer.field];
  mark(
    input instanceof HTMLElement ? input : null,
    `${answer.error} ${answer.remedy || ""}`,
    /** @type {HTMLFormElement} */ (form).querySelector(".field-error"),
  );
  input?.focus?.();
  input?.select?.();
});

// A redrawn panel keeps the marks of refused values, while the selection stays.
on("panels-shown", () => {
  const chosen = state.chosen.join();
  for (const [id, { value, words, chosen: then }] of wrong) {
    const input = $(id);
    if (!input || then !== chosen) {
      wrong.delete(id);
      continue;
    }
    input.value = value;
    mark(input, words);
  }
});
on("chosen", () => {
  for (const [id, { chosen: then }] of wrong) {
    if (then === state.chosen.join()) continue;
    wrong.delete(id);
    const input = $(id);
    if (input) clear(input);
  }
});

export { clearForm };
