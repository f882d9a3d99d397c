// The shelf beside the ready outlines: its tiles, one search over both, adding the selection.
import { action } from "../core/act.js";
import { finds } from "../core/search.js";
import { notice } from "../core/notices.js";
import { askPanels, askTiles, command, keepOutline, may } from "../core/server.js";
import { tilesBy, tilesCame } from "../tools/settings.js";
import { $, drawn, on, state } from "../core/state.js";

const tiles = () => [...document.querySelectorAll("#outlines .outline-tile")];
const inSight = () => tiles().filter((tile) => !tile.hidden && !tile.closest("details:not([open])"));

// -- the tiles

const got = { ready: "", shelf: "" };
async function fillOne(name, anew) {
  if (anew || !got[name]) got[name] = (await askTiles(name)) || got[name];
  const place = $(`${name}-tiles`);
  if (!place || place.dataset.shown === got[name]) return;
  place.innerHTML = got[name];
  place.dataset.shown = got[name];
  if (name === "shelf") $("shelf-count").textContent = `${place.querySelectorAll(".shelf-item").length || "empty"}`;
}
let filling = null;
// Resolves when the tiles have loaded.
function fill(anew) {
  filling ||= Promise.all([fillOne("ready", false), fillOne("shelf", anew)]).then(() => {
    filling = null;
    tilesCame(got.ready);
    find();
  });
  return filling;
}
tilesBy(() => fill(false));
on("tool", () => state.tool === "ready" && fill(false));
on("panels-shown", () => {
  const bare = $("ready-tiles")?.childElementCount === 0;
  if (bare && (got.ready || state.tool === "ready")) fill(false);
});
// another window may have added something
addEventListener("focus", () => state.tool === "ready" && fill(true));

// -- finding

let unfolded = false; // the shelf, by a search that found something there
function find() {
  if (!$("find-ready")) return;
  const typed = $("find-ready").value.trim();
  const found = finds(typed);
  const category = $("find-category").value;
  let count = 0;
  let onShelf = 0;
  for (const tile of tiles()) {
    tile.hidden = (category && tile.dataset.category !== category) || !found(tile.dataset.words);
    if (tile.hidden) continue;
    count++;
    if (tile.dataset.category === "Shelf") onShelf++;
  }
  const sought = onShelf > 0 && Boolean(typed || category);
  if (sought !== unfolded) $("tiles-fold").open = unfolded = sought;
  $("found-none").hidden = count > 0;
  $("found").textContent = typed || category ? `${count} found` : "";
  stops();
}
document.addEventListener("toggle", ({ target }) => target.id === "tiles-fold" && stops(), true);
document.addEventListener("input", ({ target }) => target.matches?.("#find-ready, #find-category") && find());
document.addEventListener("keydown", async (event) => {
  if (event.target.id !== "find-ready" || !["Enter", "ArrowDown"].includes(event.key)) return;
  event.preventDefault();
  event.stopPropagation();
  const chosen = event.key === "Enter";
  // the person may be quicker than the tiles
  await fill(false);
  const [first] = inSight();
  if (chosen) first?.click();
  else first?.focus();
});

// One of the tiles is reached by Tab, the others from there by the arrows.
function stops() {
  const shown = inSight();
  const now = shown.find((tile) => tile.getAttribute("aria-pressed") === "true") || shown[0];
  for (const tile of shown) tile.tabIndex = tile === now ? 0 : -1;
}
document.addEventListener(
  "keydown",
  (event) => {
    const tile = event.target.closest?.(".outline-tile");
    if (!tile || event.ctrlKey || event.altKey || event.metaKey || !event.key.startsWith("Arrow")) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    const shown = inSight();
    const here = tile.getBoundingClientRect();
    const at = shown.indexOf(tile);
    const beside = { ArrowLeft: shown[at - 1], ArrowRight: shown[at + 1] };
    const row = (sign) =>
      shown
        .map((one) => ({ one, box: one.getBoundingClientRect() }))
        .filter(({ box }) => sign * (box.top - here.top) > here.height / 2)
        .sort(
          (p, q) =>
            sign * (p.box.top - q.box.top) || Math.abs(p.box.left - here.left) - Math.abs(q.box.left - here.left),
        )[0]?.one;
    const next = beside[event.key] ?? (event.key === "ArrowDown" ? row(1) : event.key === "ArrowUp" ? row(-1) : null);
    if (!next) return;
    tile.tabIndex = -1;
    next.tabIndex = 0;
    next.focus();
  },
  true,
);

// -- adding

let asked = null;
action("keep-outline", async ({ name }) => {
  if (!(await may("link_shelf"))) return;
  const [id] = state.chosen;
  asked = { id };
  const form = $("keep-form");
  form.elements.name.value = name || drawn(id).dataset.name;
  form.elements.tags.value = "";
  form.querySelector(".field-error").hidden = true;
  $("keep").showModal();
  form.elements.name.select();
});

async function addToShelf(asked) {
  const answer = await keepOutline(asked);
  if (answer.error) return answer;
  const marked = await command("link_shelf", { id: asked.id, item: answer.item, variant: answer.variant });
  if (!marked.error)
    notice(`“${answer.name}” is on the shelf${asked.of ? `, version ${answer.version}` : ""}.`, answer.note);
  askPanels();
  fill(true);
  return answer;
}
action("keep-it", async ({ name, tags }) => {
  const answer = await addToShelf({ ...asked, name, tags });
  if (!answer.error) $("keep").close();
  return answer;
});
action("close-dialog", ({ id }) => $(id).close());
action("keep-version", async ({ id, item, variant }) => {
  const answer = await addToShelf({ id, of: item, variant });
  if (answer.error) notice(answer.error, answer.remedy);
});
