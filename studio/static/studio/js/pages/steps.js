// The steps of a project: viewing one, going back to it, naming it, making a project from it.
import { ask, askHtml } from "../core/http.js";
import { said, tellTimes } from "../core/times.js";

import { $ } from "../core/by_id.js";
const first = JSON.parse($("steps-first").textContent);
const at = (form, number) => form.dataset.at.replace("/0/", `/${number}/`);
let seen = first.head;
tellTimes();

function look(card) {
  seen = Number(card.dataset.step);
  for (const other of document.querySelectorAll("[aria-pressed]")) other.setAttribute("aria-pressed", "false");
  card.setAttribute("aria-pressed", "true");
  $("seen").src = first.pictures.replace("/0/", `/${seen}/`);
  $("seen-label").textContent = card.dataset.name || card.dataset.label;
  const now = seen === first.head;
  const how = now ? " · the sheet as it is now" : card.matches(".aside") ? " · undone since" : "";
  $("seen-made").textContent = said(card.dataset.made, "both") + how;
  $("go-back-button").disabled = now;
  $("go-back").action = at($("go-back"), seen);
  $("branch").action = at($("branch"), seen);
  $("step-word").value = card.dataset.name;
  $("name-said").textContent = "";
}

async function fill(cells, address) {
  const html = await askHtml(address);
  if (html === null) cells.textContent = "The server does not answer. Reload the page in a moment.";
  else cells.insertAdjacentHTML("beforeend", html);
  tellTimes(cells);
}

document.addEventListener("click", async ({ target }) => {
  const card = target.closest("[data-step]");
  if (card) return look(card);
  const more = target.closest(".steps-more");
  if (!more) return;
  const session = more.closest(".session");
  more.remove();
  await fill(session.querySelector(".steps-cells"), `${session.dataset.at}?below=${more.dataset.below}`);
});
for (const session of document.querySelectorAll(".session"))
  session.addEventListener("toggle", () => {
    const cells = session.querySelector(".steps-cells");
    if (session.open && !cells.children.length) fill(cells, session.dataset.at);
  });

$("step-name").addEventListener("submit", async (event) => {
  event.preventDefault();
  const form = $("step-name");
  const number = seen;
  const body = new URLSearchParams(/** @type {any} */ (new FormData(form)));
  const answer = await ask(at(form, number), { method: "POST", body });
  if (answer.error) {
    $("name-said").textContent = `${answer.error} ${answer.remedy}`;
    return;
  }
  for (const card of document.querySelectorAll(`[data-step="${number}"]`)) {
    card.dataset.name = answer.name;
    const label = card.querySelector(".step-label");
    if (label) label.textContent = answer.name || card.dataset.label;
  }
  $("name-said").textContent = answer.name ? "Name saved." : "Name removed.";
});
