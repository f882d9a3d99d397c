// Swapping in drawings from the server.
import { showPanels } from "./panels.js";
import { shift } from "./shifted.js";
import { $, on, emit, took } from "./state.js";

const holder = document.createElementNS("http://www.w3.org/2000/svg", "svg");

export function show(answer) {
  took(answer);
  const art = $("art");
  const now = new Map([...art.children].map((g) => [g.dataset.id, g]));
  for (const [id, svg] of Object.entries(answer.swap)) {
    holder.innerHTML = svg;
    const fresh = holder.firstElementChild;
    const old = now.get(id);
    if (old) old.replaceWith(fresh);
    now.set(id, fresh);
  }
  for (const [dx, dy, ids] of answer.moved || []) for (const id of ids) shift(now.get(id), dx, dy);
  const wanted = new Set(answer.order);
  for (const [id, g] of now) if (!wanted.has(id)) g.remove();
  let before = null;
  for (const id of [...answer.order].reverse()) {
    const g = now.get(id);
    if (g.parentNode !== art || g.nextElementSibling !== before) art.insertBefore(g, before);
    g.removeAttribute("transform");
    before = g;
  }
  overPhotos();
  if (answer.panels) showPanels(answer.panels);
  emit("shown", answer);
}

// Mark the pieces over a photo: at work, it shows through them.
export function overPhotos() {
  const below = [];
  for (const g of $("art").children) {
    const b = g.dataset.box.split(" ").map(Number);
    const photo = g.dataset.kind === "photo" || g.dataset.kind === "frame";
    const over = !photo && below.some((p) => p[0] < b[2] && b[0] < p[2] && p[1] < b[3] && b[1] < p[3]);
    g.classList.toggle("over", over);
    if (photo) below.push(b);
  }
}

on("answer", show);
