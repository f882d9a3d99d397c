// The progress of a batch; making its files, stopping, retrying.
import { $, ask, at, first, look, notice, refused } from "./batch_server.js";
import { cells, figures } from "./batch_cells.js";

export let now = {
  state: first.state,
  files: {},
  why: {},
  size: 0,
  contact: /** @type {[string, number, string]} */ (["stopped", 0, ""]),
};
let making = null; // what is said while photos come in, until they are here: { words, share, stopped }
export function coming(progress) {
  making = progress;
  words();
}
// Settings and moves of a moment ago are sent before the files are made.
const before = [];
export const known = (wait) => before.push(wait);
let again = null;
let wanted = false; // the contact sheet

let listed = "";
const nameOf = (n) => document.querySelector(`.cell[data-n="${n}"] figcaption span`)?.textContent || "A photo";
export function problemRow(text) {
  const item = document.createElement("li");
  item.textContent = text;
  return item;
}
const STATES = { n: "new", w: "waiting", d: "done", f: "failed", s: "stopped" };
export function words() {
  const letters = Object.values(now.files);
  const count = (letter) => letters.filter((l) => l === letter).length;
  const [total, done, failed] = [letters.length, count("d"), count("f")];
  const under = now.state === "under way";
  const ended = done + failed;
  const bar = $("batch-bar");
  bar.hidden = !under && !making;
  if (making) {
    if (making.share === null) bar.removeAttribute("value");
    else bar.value = making.share;
  } else bar.value = total ? ended / total : 0;
  const size = now.size ? `, ${(now.size / 1e6).toFixed(1)} MB` : "";
  const wrong = failed ? `, ${failed} failed` : "";
  $("batch-words").textContent =
    making?.words ||
    (under
      ? `${ended} of ${total} made${wrong}`
      : done || failed
        ? `${done} of ${total} file${total === 1 ? "" : "s"} ready${wrong}${size}`
        : total
          ? `${total} file${total > 1 ? "s" : ""} to make`
          : "No photos yet");
  $("batch-stop").hidden = !under && !making;
  $("batch-start").hidden = under;
  $("batch-start").disabled = !total || Boolean(making);
  $("batch-start").textContent = total
    ? `Make ${total} ${$("batch-format").selectedOptions[0].textContent} file${total > 1 ? "s" : ""}`
    : "Make the files";
  $("batch-zip").hidden = !done;
  $("batch-again").hidden = !failed || under;
  $("batch-contact").disabled = !total;
  const failures = Object.entries(now.why).map(([n, why]) => `${nameOf(n)}: ${why}`);
  if (failures.join() !== listed) {
    listed = failures.join();
    $("batch-failed").replaceChildren(...failures.map(problemRow));
  }
  for (const figure of figures()) {
    const letter = now.files[figure.dataset.n];
    if (!letter || letter === figure.dataset.state) continue;
    figure.dataset.state = letter;
    const why = now.why[figure.dataset.n];
    figure.querySelector(`#says-${figure.dataset.n}`).textContent = `${STATES[letter]}${why ? `: ${why}` : ""}`;
    figure.title = why || "";
  }
}
export async function follow() {
  clearTimeout(again);
  const answer = await look("state");
  if (answer.error) {
    $("batch-words").textContent = `${answer.error} Trying again.`;
    again = setTimeout(follow, 3000);
    return;
  }
  now = answer;
  words();
  const [contact, share, why] = now.contact;
  if (wanted) {
    if (contact === "done") {
      wanted = false;
      location.assign(`${at}contact`);
    } else if (contact === "failed") {
      wanted = false;
      notice("The contact sheet couldn’t be made.", why);
    } else $("batch-words").textContent = `Making the contact sheet${share ? `, ${Math.round(share * 100)} %` : ""}`;
  }
  if (now.state === "under way" || wanted) again = setTimeout(follow, 700);
}

// Redraw the page: its progress, and the cells.
export async function anew() {
  await follow();
  await cells();
  words();
}

$("batch-contact").addEventListener("click", async () => {
  if (refused(await ask("contact"))) return;
  wanted = true;
  follow();
});
$("batch-start").addEventListener("click", async () => {
  await Promise.all(before.map((wait) => wait()));
  const answer = await ask("start");
  if (refused(answer)) return;
  if (!answer.begun) notice("All files are up to date.", "Nothing had to be made again.");
  follow();
});
$("batch-again").addEventListener("click", async () => {
  refused(await ask("start?failed=1"));
  follow();
});
$("batch-stop").addEventListener("click", async () => {
  if (making) {
    making.stopped = true;
    return;
  }
  await ask("stop");
  follow();
});
