// How far the engine's compilation is, in the page's foot until it is done.
import { $ } from "./by_id.js";
const word = $("warming");
async function look() {
  const response = await fetch(word.dataset.at).catch(() => null);
  const { warming = null } = response?.ok ? await response.json() : { warming: word.lastElementChild.textContent };
  if (warming === null) word.remove();
  else {
    word.lastElementChild.textContent = warming;
    setTimeout(look, 2000);
  }
}
setTimeout(look, 2000);
