// Why something cannot be done, and what became of it: one notice of a kind, gone with the next press.
import { $, on } from "./state.js";

export function notice(message, remedy = "", offer = null) {
  const box = document.createElement("div");
  box.className = "notice";
  box.setAttribute("role", "alert");
  const words = document.createElement("div");
  const strong = document.createElement("b");
  strong.textContent = message;
  words.append(strong, ` ${remedy}`);
  const parts = [words];
  if (offer) {
    const [label, name, args] = offer;
    const button = document.createElement("button");
    button.type = "button";
    button.className = "btn btn-sm btn-outline-primary";
    button.id = "offer";
    button.dataset.act = JSON.stringify([name, args]);
    button.textContent = label;
    parts.push(button);
  }
  const close = document.createElement("button");
  close.type = "button";
  close.setAttribute("aria-label", "Close this notice");
  close.textContent = "✕";
  close.addEventListener("click", () => box.remove());
  box.append(...parts, close);
  // refusals do not pile up: the newest says what is to be said
  $("notices").replaceChildren(box);
  setTimeout(() => box.remove(), 12000);
}

on("refused", (answer) => notice(answer.error, answer.remedy));
on("note", ({ words, offer }) => notice(words, "", offer));
on("press", () => $("notices").replaceChildren());
// what was asked for was done, or something else: a refusal of before is no longer true
on("shown", (answer) => {
  if (!answer.note && !answer.notice) $("notices").replaceChildren();
});
