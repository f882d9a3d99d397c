// Why something cannot be done, and what became of it: one notice of a kind, gone with the next press.
import { clearNote, note, offered } from "./note.js";
import { on } from "./state.js";

export function notice(message, remedy = "", offer = null) {
  let button = null;
  if (offer) {
    button = offered(offer[0], "offer");
    button.dataset.act = JSON.stringify(offer.slice(1));
  }
  note(message, remedy, button);
}

on("refused", (answer) => notice(answer.error, answer.remedy, answer.offer));
on("note", ({ words, offer }) => notice(words, "", offer));
on("press", clearNote);
// what was asked for was done, or something else: a refusal of before is no longer true
on("shown", (answer) => {
  if (!answer.note && !answer.notice) clearNote();
});
