// Rulers in the sheet's own unit.
import { $, on, state } from "../core/state.js";

const STEPS = [1, 2, 5];

function step(perUnit) {
  // the smallest 1, 2 or 5 times a power of ten that leaves 50 px between labels
  for (let power = -3; power < 7; power++) {
    for (const s of STEPS) if (s * 10 ** power * perUnit >= 50) return s * 10 ** power;
  }
  return 1e7;
}

function draw(svg, offset, length, perUnit, across) {
  const major = step(perUnit);
  const parts = [];
  const words = [];
  const first = Math.floor(-offset / perUnit / major);
  for (let k = first; ; k++) {
    const at = offset + k * major * perUnit;
    if (at > length) break;
    for (let m = 0; m < 5; m++) {
      const p = Math.round(at + (m * major * perUnit) / 5) + 0.5;
      const from = m === 0 ? 4 : 13;
      parts.push(across ? `M${p} ${from}V18` : `M${from} ${p}H18`);
    }
    const word = String(+(k * major).toFixed(3));
    words.push(
      across
        ? `<text x="${Math.round(at) + 4}" y="10">${word}</text>`
        : `<text transform="translate(10 ${Math.round(at) - 4}) rotate(-90)">${word}</text>`,
    );
  }
  svg.innerHTML = `<path d="${parts.join("")}"/>${words.join("")}`;
}

let asked = false;
on("view", (view) => {
  if (asked) return;
  asked = true;
  requestAnimationFrame(() => {
    asked = false;
    const perUnit = state.surface.perUnit * view.zoom;
    const box = $("desk").getBoundingClientRect();
    draw($("ruler-x"), view.x - 18, box.width, perUnit, true);
    draw($("ruler-y"), view.y - 18, box.height, perUnit, false);
  });
});
