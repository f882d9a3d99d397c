// Help for where one is: what the station is for, then the keys, with a search.
import { action } from "../core/act.js";
import { finds } from "../core/search.js";
import { $, state } from "../core/state.js";

const rows = () => document.querySelectorAll("#keys .keys-list > div");

action("keys", () => {
  for (const words of document.querySelectorAll(".keys-here p")) words.hidden = words.dataset.station !== state.station;
  $("find-key").value = "";
  for (const row of rows()) row.hidden = false;
  $("keys").showModal();
});
$("find-key").addEventListener("input", ({ target }) => {
  const found = finds(target.value.trim());
  for (const row of rows()) row.hidden = !found(row.textContent.trim().toLowerCase().replace(/\s+/g, " "));
});
// Enter looks for what was typed, and closes nothing
$("find-key").addEventListener("keydown", (event) => {
  if (event.key === "Enter") event.preventDefault();
});
