// The shelf's page: finding by name or tag, and dropping files on it.
import { $ } from "../core/by_id.js";
import "../core/dropped_files.js";
import { finds } from "../core/search.js";

$("find")?.addEventListener("input", ({ target }) => {
  const found = finds(target.value.trim());
  for (const card of document.querySelectorAll(".shelf-list [data-words]")) card.hidden = !found(card.dataset.words);
});
