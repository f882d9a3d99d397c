// Announcements for screen readers beyond focus and notices: what was done or undone, else the selection.
import { $, on, state } from "./state.js";

const REST = 150; // ms: what comes together is said as one
let revision = state.revision;
let done = ""; // outweighs what is selected after it
let chosen = $("hint-chosen").textContent;
let timer = 0;

function soon() {
  clearTimeout(timer);
  timer = setTimeout(() => {
    // repeat the words even if they are the same
    $("announced").textContent = "";
    const words = done || chosen;
    done = "";
    requestAnimationFrame(() => {
      $("announced").textContent = words;
    });
  }, REST);
}

on("shown", (answer) => {
  const before = revision;
  ({ revision } = state);
  if (revision === before || answer.note || answer.notice) return;
  done = revision < before ? `Undone: ${state.redo}` : `Done: ${state.undo}`;
  soon();
});
on("station", () => {
  // reached by its key, the station gets the focus, which announces it
  requestAnimationFrame(() => {
    if (document.activeElement === $("drawer")) return;
    done = $("drawer").getAttribute("aria-label");
    soon();
  });
});
new MutationObserver(() => {
  const now = $("hint-chosen").textContent;
  if (now === chosen) return;
  chosen = now;
  soon();
}).observe($("hint-chosen"), { childList: true, characterData: true, subtree: true });
