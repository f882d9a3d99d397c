// A label beside the pointer during a gesture.
import { $, state } from "./state.js";

export const show = (px) => String(+(px / state.surface.perUnit).toFixed(state.surface.unit === "px" ? 0 : 2));

export function label(event, words) {
  const box = $("desk").getBoundingClientRect();
  const x = event.clientX - box.left + 14;
  const y = event.clientY - box.top + 18;
  const width = words.length * 6.2 + 12;
  $("live").insertAdjacentHTML(
    "beforeend",
    `<rect class="size-ground" x="${x}" y="${y}" width="${width}" height="17" rx="4"/><text class="size-word" x="${x + 6}" y="${y + 12.5}">${words}</text>`,
  );
}
