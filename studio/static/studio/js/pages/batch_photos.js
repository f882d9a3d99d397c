// Adding photos to a batch: files, a folder, those of the project.
import { filesOf, inOrder } from "../core/folders.js";
import { $, ask, notice, refused } from "./batch_server.js";
import { anew, coming, problemRow } from "./batch_progress.js";
import { example } from "./batch_settings.js";

let making = null;
const wrong = $("batch-wrong");
const addProblems = (list) => wrong.append(...list.map(problemRow));
async function bring(files) {
  if (!files.length || making) return;
  wrong.replaceChildren();
  making = { words: "", share: 0, stopped: false };
  coming(making);
  let [came, twice, next] = [0, 0, 0];
  const got = new Array(files.length).fill("");
  // three at a time, so that the connection is busy and the server is not
  const carry = async () => {
    while (next < files.length && !making.stopped) {
      const k = next++;
      const form = new FormData();
      form.append("photo", files[k]);
      const answer = await ask("photos", form);
      if (answer.error) addProblems([`${answer.error} ${answer.remedy || ""}`]);
      else got[k] = answer.came;
      making.share = (0.7 * next) / files.length;
      making.words = `Bringing in ${next} of ${files.length}`;
      coming(making);
    }
  };
  await Promise.all([carry(), carry(), carry()]);
  // in the order they were selected, as far as they have been read
  const all = got.filter(Boolean);
  let left = all;
  while (left.length && !making.stopped) {
    const answer = await ask("added", { came: left.slice(0, 500) });
    if (answer.error) {
      addProblems([`${answer.error} ${answer.remedy}`]);
      break;
    }
    came += answer.came;
    twice += answer.twice;
    addProblems(answer.wrong);
    left = left.slice(answer.done);
    making.share = 0.7 + 0.3 * (1 - left.length / all.length);
    making.words = `Reading ${all.length - left.length} of ${all.length}`;
    coming(making);
    if (left.length && !answer.done) await new Promise((done) => setTimeout(done, 400));
  }
  making = null;
  coming(null);
  await anew();
  if (twice)
    notice(`${twice} of them ${twice > 1 ? "were" : "was"} in the batch already.`, "Each photo is in the batch once.");
  else if (!came) notice("No photo came in.", "See the list at the left for why.");
  example();
}
for (const id of ["batch-files", "batch-folder"])
  $(id).addEventListener("change", ({ target }) => {
    const files = id === "batch-files" ? [...target.files] : inOrder(target.files);
    target.value = "";
    bring(files);
  });
$("batch-own")?.addEventListener("click", async () => {
  const answer = await ask("own");
  if (refused(answer)) return;
  if (!answer.came) notice("They are in the batch already.");
  await anew();
  example();
});
const carries = (event) => [...(event.dataTransfer?.types || [])].includes("Files");
document.addEventListener("dragover", (event) => {
  if (!carries(event)) return;
  event.preventDefault();
  $("cells").classList.add("dropping");
});
document.addEventListener("dragleave", (event) => {
  if (!event.relatedTarget) $("cells").classList.remove("dropping");
});
document.addEventListener("drop", (event) => {
  $("cells").classList.remove("dropping");
  if (!carries(event)) return;
  event.preventDefault();
  filesOf(event.dataTransfer).then(bring, () => notice("That folder cannot be read.", "Drop the files in it instead."));
});
