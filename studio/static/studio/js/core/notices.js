// Refusals and results: one notice of each kind, gone with the next press.
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
// it was done after all, or something else was: an earlier refusal no longer applies
on("shown", (answer) => {
  if (!answer.note && !answer.notice) clearNote();
});
