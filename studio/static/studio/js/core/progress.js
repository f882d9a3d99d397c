// Long work: what is running, its progress, and a button to stop it.
import { $ } from "./state.js";

let stop = null;

export function progress(words, share) {
  const card = $("progress");
  card.hidden = words === null;
  if (words === null) return;
  card.querySelector(".progress-text").textContent = words;
  const bar = card.querySelector("progress");
  if (share === null) bar.removeAttribute("value");
  else bar.value = share;
}

export function stoppable() {
  stop = new AbortController();
  return stop;
}
export const stopNow = () => stop?.abort();

// Show `words` once the work has taken a while; `stopped` is called if it is stopped. Returns a function to end it.
export function patience(words, stopped) {
  let shown = false;
  const timer = setTimeout(() => {
    shown = true;
    stoppable().signal.addEventListener("abort", stopped);
    progress(words, null);
  }, 600);
  return () => {
    clearTimeout(timer);
    if (shown) progress(null);
  };
}
