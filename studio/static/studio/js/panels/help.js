// Help for the current station: its purpose, its keys and then all others, with a search.
import { action } from "../core/act.js";
import { finds } from "../core/search.js";
import { $, state } from "../core/state.js";

const sections = () => [...document.querySelectorAll("#keys .keys-list > section")];
const order = sections();

function show(found) {
  for (const section of sections()) {
    const rows = [...section.querySelectorAll("dl > div")];
    for (const row of rows) row.hidden = !found(row.textContent.trim().toLowerCase().replace(/\s+/g, " "));
    section.hidden = rows.every((row) => row.hidden);
  }
  $("no-key").textContent = sections().every((section) => section.hidden) ? "No key does that. Try another word." : "";
}

action("keys", () => {
  for (const part of document.querySelectorAll(".keys-here > div"))
    part.hidden = part.dataset.station !== state.station;
  // the keys of this station come first, then those that work everywhere
  const rank = ({ dataset }) => [state.station, "everywhere"].indexOf(dataset.station) + 1 || 3;
  $("no-key").before(...order.toSorted((a, b) => rank(a) - rank(b)));
  $("keys-h").textContent = `Help: ${$(`station-${state.station}`)
    .textContent.trim()
    .replace(/^\d\s*/, "")}`;
  $("find-key").value = "";
  show(() => true);
  $("keys").showModal();
});
$("find-key").addEventListener("input", ({ target }) => show(finds(target.value.trim())));
// Enter searches, and closes nothing
$("find-key").addEventListener("keydown", (event) => {
  if (event.key === "Enter") event.preventDefault();
});
