// The progress of the engine's compilation, in the page's foot until it is done.
import { $ } from "./by_id.js";
import { ask } from "./http.js";
const word = $("warming");
async function look() {
  const answer = await ask(word.dataset.at);
  const { warming = null } = answer.error ? { warming: word.lastElementChild.textContent } : answer;
  if (warming === null) word.remove();
  else {
    word.lastElementChild.textContent = warming;
    setTimeout(look, 2000);
  }
}
setTimeout(look, 2000);
