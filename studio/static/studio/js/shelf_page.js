// The shelf's page: finding by name or tag, files dropped on it.
import "./dropped.js";

document.getElementById("find")?.addEventListener("input", ({ target }) => {
  const words = target.value.toLowerCase().split(/\s+/);
  for (const card of document.querySelectorAll(".shelf-list [data-words]"))
    card.hidden = !words.every((word) => card.dataset.words.includes(word));
});
