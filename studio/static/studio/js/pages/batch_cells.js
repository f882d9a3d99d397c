// The contact sheet: its cells, whose pictures load when they stay in view.
import { askHtml } from "../core/http.js";
import { $, at } from "./batch_server.js";

// A picture is asked for once its cell has been in view for a moment: cells scrolled past are not drawn.
const RESTS = 120;
const waiting = new Map();
const sight = new IntersectionObserver(
  (entries) => {
    for (const { target, isIntersecting } of entries) {
      clearTimeout(waiting.get(target));
      waiting.delete(target);
      if (!isIntersecting) continue;
      const rests = () => {
        target.src = target.dataset.src;
        sight.unobserve(target);
      };
      waiting.set(target, setTimeout(rests, RESTS));
    }
  },
  { root: $("cells"), rootMargin: "200px 0px" },
);
export function watch() {
  waiting.clear();
  for (const image of document.querySelectorAll(".cell img[data-src]:not([src])")) sight.observe(image);
}
export const figures = () => [...document.querySelectorAll(".cell")];
export async function cells() {
  const html = await askHtml(`${at}cells`);
  if (html === null) return;
  const top = $("cells").scrollTop;
  $("cells").innerHTML = html;
  $("cells").scrollTop = top;
  watch();
}
