// A run's page: photos come in, are looked at and adjusted, and the files are made; Python draws and works out all of it.
import { filesOf } from "./folders.js";
import { note, offered } from "./note.js";
import { latest } from "./queue.js";

const $ = (id) => document.getElementById(id);
const run = $("run");
const at = run.dataset.at;
const token = document.querySelector("input[name=csrfmiddlewaretoken]").value;
const many = Number(run.dataset.many);

// -- asking

async function ask(path, body, method = "POST") {
  const options = { method, headers: { "X-CSRFToken": token, Accept: "application/json" } };
  if (body instanceof FormData) options.body = body;
  else if (body !== undefined) options.body = JSON.stringify(body);
  try {
    const response = await fetch(at + path, options);
    if (response.redirected) return { error: "You are signed out.", remedy: "Sign in again in another window." };
    const json = response.headers.get("Content-Type")?.includes("json");
    if (json) return await response.json();
    return response.ok ? {} : { error: "That did not work.", remedy: "Try again in a moment." };
  } catch {
    return { error: "The server does not answer.", remedy: "Try again in a moment." };
  }
}
const look = (path) => ask(path, undefined, "GET");

function notice(message, remedy = "", offer = null) {
  let button = null;
  if (offer) {
    button = offered(offer[0]);
    button.addEventListener("click", () => {
      button.parentNode.remove();
      offer[1]();
    });
  }
  note(message, remedy, button);
}
const refused = (answer) => {
  if (answer.error) notice(answer.error, answer.remedy);
  return Boolean(answer.error);
};

// -- the contact sheet

// A picture is asked for once its place has been in sight for a moment: what is scrolled past is not drawn.
const RESTS = 120;
const waiting = new Map();
const sight = new IntersectionObserver(
  (entries) => {
    for (const { target, isIntersecting } of entries) {
      clearTimeout(waiting.get(target));
      waiting.delete(target);
      if (!isIntersecting) continue;
      const ask_ = () => {
        target.src = target.dataset.src;
        sight.unobserve(target);
      };
      waiting.set(target, setTimeout(ask_, RESTS));
    }
  },
  { root: $("cells"), rootMargin: "200px 0px" },
);
function watch() {
  waiting.clear();
  for (const image of document.querySelectorAll(".cell img[data-src]:not([src])")) sight.observe(image);
}
const figures = () => [...document.querySelectorAll(".cell")];
async function cells() {
  const response = await fetch(`${at}cells`, { headers: { Accept: "text/html" } });
  if (!response.ok || response.redirected) return;
  const top = $("cells").scrollTop;
  $("cells").innerHTML = await response.text();
  $("cells").scrollTop = top;
  watch();
  words();
}

// -- how far it is

let now = { state: run.dataset.state, files: {}, why: {}, size: 0, contact: ["stopped", 0, ""] };
let making = null; // words while photos come in
let again = null;

let listed = "";
const nameOf = (n) => document.querySelector(`.cell[data-n="${n}"] figcaption span`)?.textContent || "A photo";
function lamentation(text) {
  const item = document.createElement("li");
  item.textContent = text;
  return item;
}
const SAID = { n: "new", w: "waiting", d: "done", f: "failed", s: "stopped" };
function words() {
  const letters = Object.values(now.files);
  const count = (letter) => letters.filter((l) => l === letter).length;
  const [total, done, failed] = [letters.length, count("d"), count("f")];
  const under = now.state === "under way";
  const ended = done + failed;
  const bar = $("run-bar");
  bar.hidden = !under && !making;
  if (making) {
    if (making.share === null) bar.removeAttribute("value");
    else bar.value = making.share;
  } else bar.value = total ? ended / total : 0;
  const size = now.size ? `, ${(now.size / 1e6).toFixed(1)} MB` : "";
  const wrong = failed ? `, ${failed} failed` : "";
  $("run-words").textContent =
    making?.words ||
    (under
      ? `${ended} of ${total} made${wrong}`
      : done || failed
        ? `${done} of ${total} files are there${wrong}${size}`
        : total
          ? `${total} file${total > 1 ? "s" : ""} to make`
          : "No photos yet");
  $("run-stop").hidden = !under && !making;
  $("run-start").hidden = under;
  $("run-start").disabled = !total || Boolean(making);
  $("run-start").textContent = total
    ? `Make ${total} ${$("run-format").selectedOptions[0].textContent} file${total > 1 ? "s" : ""}`
    : "Make the files";
  $("run-zip").hidden = !done;
  $("run-again").hidden = !failed || under;
  $("run-contact").disabled = !total;
  const failures = Object.entries(now.why).map(([n, why]) => `${nameOf(n)}: ${why}`);
  if (failures.join() !== listed) {
    listed = failures.join();
    $("run-failed").replaceChildren(...failures.map(lamentation));
  }
  for (const figure of figures()) {
    const letter = now.files[figure.dataset.n];
    if (!letter || letter === figure.dataset.state) continue;
    figure.dataset.state = letter;
    const why = now.why[figure.dataset.n];
    figure.querySelector(`#says-${figure.dataset.n}`).textContent = `${SAID[letter]}${why ? `: ${why}` : ""}`;
    figure.title = why || "";
  }
}
async function follow() {
  clearTimeout(again);
  const answer = await look("state");
  if (answer.error) {
    $("run-words").textContent = `${answer.error} Trying again.`;
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
      notice("The contact sheet was not made.", why);
    } else $("run-words").textContent = `Making the contact sheet${share ? `, ${Math.round(share * 100)} %` : ""}`;
  }
  if (now.state === "under way" || wanted) again = setTimeout(follow, 700);
}

let wanted = false; // the contact sheet
$("run-contact").addEventListener("click", async () => {
  if (refused(await ask("contact"))) return;
  wanted = true;
  follow();
});
$("run-start").addEventListener("click", async () => {
  await settled;
  const answer = await ask("start");
  if (refused(answer)) return;
  if (!answer.begun) notice("All of them are there, as they are asked for.", "Nothing had to be made again.");
  follow();
});
$("run-again").addEventListener("click", async () => {
  refused(await ask("start?failed=1"));
  follow();
});
$("run-stop").addEventListener("click", async () => {
  if (making) {
    making.stopped = true;
    return;
  }
  await ask("stop");
  follow();
});

// -- photos

const wrong = $("run-wrong");
const lament = (list) => wrong.append(...list.map(lamentation));
async function bring(files) {
  if (!files.length || making) return;
  wrong.replaceChildren();
  making = { words: "", share: 0, stopped: false };
  let [came, twice, next] = [0, 0, 0];
  const got = new Array(files.length).fill("");
  // three at a time, so that the line is full and the server is not
  const carry = async () => {
    while (next < files.length && !making.stopped) {
      const k = next++;
      const form = new FormData();
      form.append("photo", files[k]);
      const answer = await ask("photos", form);
      if (answer.error) lament([`${answer.error} ${answer.remedy || ""}`]);
      else got[k] = answer.came;
      making.share = (0.7 * next) / files.length;
      making.words = `Bringing in ${next} of ${files.length}`;
      words();
    }
  };
  await Promise.all([carry(), carry(), carry()]);
  // in the order they were chosen, as far as they are read
  const all = got.filter(Boolean);
  let left = all;
  while (left.length && !making.stopped) {
    const answer = await ask("added", { came: left.slice(0, 500) });
    if (answer.error) {
      lament([`${answer.error} ${answer.remedy}`]);
      break;
    }
    came += answer.came;
    twice += answer.twice;
    lament(answer.wrong);
    left = left.slice(answer.done);
    making.share = 0.7 + 0.3 * (1 - left.length / all.length);
    making.words = `Reading ${all.length - left.length} of ${all.length}`;
    words();
    if (left.length && !answer.done) await new Promise((done) => setTimeout(done, 400));
  }
  making = null;
  await follow();
  await cells();
  if (twice) notice(`${twice} of them ${twice > 1 ? "were" : "was"} in the run already.`, "None is taken twice.");
  else if (!came) notice("No photo came in.", "See the list at the left for why.");
  example();
}
for (const id of ["run-files", "run-folder"])
  $(id).addEventListener("change", ({ target }) => {
    const files = [...target.files].filter((file) => id === "run-files" || !file.name.startsWith("."));
    target.value = "";
    bring(files);
  });
$("run-own")?.addEventListener("click", async () => {
  const answer = await ask("own");
  if (refused(answer)) return;
  if (!answer.came) notice("They are in the run already.");
  await follow();
  await cells();
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

// -- settings

let settled = Promise.resolve();
function set(values) {
  settled = settled.then(async () => {
    const answer = await ask("set", values);
    $("run-error").hidden = !(answer.error || answer.wrong);
    $("run-error").textContent = answer.error ? `${answer.error} ${answer.remedy || ""}` : answer.wrong || "";
    for (const field of document.querySelectorAll("[data-order]"))
      field.classList.toggle("is-invalid", Boolean(answer.field) && field.dataset.order === answer.field);
    if (answer.error) return answer;
    $("run-example").textContent = answer.example || "";
    $("run-pixels").textContent = answer.pixels || "";
    options(answer.options);
    words();
    return answer;
  });
  return settled;
}
const example = () => set({});
function options(have) {
  for (const part of document.querySelectorAll("[data-option]")) part.hidden = !have.includes(part.dataset.option);
}
document.addEventListener("change", async ({ target }) => {
  if (target.dataset.order) {
    const value = target.type === "checkbox" ? target.checked : target.value.trim();
    set({ order: { [target.dataset.order]: value } });
  } else if (target.name === "where") {
    await set({ where: target.value });
    cells();
  } else if (target.id === "run-variants") {
    const answer = await set({ variants: target.checked });
    if (answer.error) target.checked = !target.checked;
    else cells();
  } else if (target.id === "run-name") set({ name: target.value });
});
document.addEventListener("keydown", (event) => {
  if (event.key === "Enter" && event.target.matches?.(".number")) event.target.blur();
});

// -- one photo, by hand

let held = null; // { n, seat, photo, frame, box }
let pending = Promise.resolve();
const picture = latest(async () => {
  if (!held) return;
  const { n, seat } = held;
  const query = new URLSearchParams({ large: "1", zoom: seat.zoom, x: seat.x, y: seat.y });
  const image = new Image();
  image.src = `${at}${n}/picture?${query}`;
  try {
    await image.decode();
  } catch {
    return;
  }
  if (held?.n === n) $("seat-img").src = image.src;
});
function told(answer) {
  held = { ...held, ...answer };
  $("seat-h").textContent = held.name;
  const which = $("seat-which");
  which.hidden = many === 1;
  $("seat-which-label").hidden = many === 1;
  which.replaceChildren(...held.photos.map(([n, name]) => new Option(name, n, false, n === held.n)));
  shown();
}
function shown() {
  $("seat-zoom").value = held.seat.zoom;
  $("seat-words").textContent = `${Math.round(held.seat.zoom * 100)} %${held.by_hand ? " · by hand" : ""}`;
  const file = $("seat-file");
  file.hidden = now.files[held.photos[0][0]] !== "d";
  file.href = `${at}${held.photos[0][0]}/file`;
  picture();
}
async function hold(n) {
  const answer = await look(`${n}/seated`);
  if (refused(answer)) return;
  held = { n };
  $("seat-img").removeAttribute("src");
  told(answer);
  if (!$("seat").open) $("seat").showModal();
  $("seat-picture").focus();
}
// What was moved is kept a moment after the hand rests, and before anything else happens.
let timer = 0;
function keep() {
  clearTimeout(timer);
  if (!held?.changed) return pending;
  const { n, seat } = held;
  held.changed = false;
  pending = ask(`${n}/seat`, seat).then((answer) => {
    if (refused(answer)) return;
    fresh(answer, n);
  });
  return pending;
}
function fresh(answer, n) {
  const figure = document.querySelector(`.cell[data-n="${answer.photos[0][0]}"]`);
  const image = figure?.querySelector("img");
  if (image) image.src = image.dataset.src = `${at}${answer.photos[0][0]}/picture?k=${answer.key}`;
  const mark = figure?.querySelector("em");
  if (answer.by_hand && figure && !mark) {
    const em = document.createElement("em");
    em.textContent = "by hand";
    figure.querySelector("figcaption span").after(em);
  } else if (!answer.by_hand) mark?.remove();
  if (held?.n === n) held.by_hand = answer.by_hand;
}
function move(seat) {
  const hold01 = (v) => Math.min(1, Math.max(0, v));
  held.seat = { zoom: Math.min(50, Math.max(1, seat.zoom)), x: hold01(seat.x), y: hold01(seat.y) };
  held.by_hand = held.changed = true;
  shown();
  clearTimeout(timer);
  timer = setTimeout(keep, 400);
}
// How far a photo may go either way, in px of the sheet.
function slack() {
  const [w, h] = held.photo;
  const [across, down] = held.frame;
  const scale = Math.max(across / w, down / h) * held.seat.zoom;
  return [scale * w - across, scale * h - down];
}
function by(dx, dy) {
  const [sx, sy] = slack();
  move({
    zoom: held.seat.zoom,
    x: sx > 1e-6 ? held.seat.x - dx / sx : held.seat.x,
    y: sy > 1e-6 ? held.seat.y - dy / sy : held.seat.y,
  });
}
$("cells").addEventListener("click", ({ target }) => {
  const figure = target.closest(".cell");
  if (figure) hold(Number(figure.dataset.n));
});
$("seat-picture").addEventListener("pointerdown", (event) => {
  if (!held || !$("seat-img").naturalWidth) return;
  event.preventDefault();
  $("seat-picture").focus();
  $("seat-picture").setPointerCapture(event.pointerId);
  const [x0, , x1] = held.box;
  const scale = (x1 - x0) / $("seat-img").clientWidth;
  let last = event;
  const go = (next) => {
    by((next.clientX - last.clientX) * scale, (next.clientY - last.clientY) * scale);
    last = next;
  };
  const up = () => {
    $("seat-picture").removeEventListener("pointermove", go);
    $("seat-picture").removeEventListener("pointerup", up);
    keep();
  };
  $("seat-picture").addEventListener("pointermove", go);
  $("seat-picture").addEventListener("pointerup", up);
});
$("seat-zoom").addEventListener("input", ({ target }) => move({ ...held.seat, zoom: Number(target.value) }));
async function beside(step) {
  await keep();
  const all = figures().map((figure) => Number(figure.dataset.n));
  const next = all[all.indexOf(held.photos[0][0]) + step];
  if (next !== undefined) hold(next);
}
$("seat").addEventListener("keydown", (event) => {
  if (event.target.matches("select")) return;
  const step = event.shiftKey ? 0.1 : 0.02;
  const [w, h] = held.frame;
  const steps = {
    ArrowLeft: () => by(-step * w, 0),
    ArrowRight: () => by(step * w, 0),
    ArrowUp: () => by(0, -step * h),
    ArrowDown: () => by(0, step * h),
    "+": () => move({ ...held.seat, zoom: held.seat.zoom * 1.1 }),
    "=": () => move({ ...held.seat, zoom: held.seat.zoom * 1.1 }),
    "-": () => move({ ...held.seat, zoom: held.seat.zoom / 1.1 }),
    PageUp: () => beside(-1),
    PageDown: () => beside(1),
  };
  if (event.target.id === "seat-zoom" && event.key.startsWith("Arrow")) return;
  if (!(event.key in steps)) return;
  event.preventDefault();
  steps[event.key]();
});
$("seat-which").addEventListener("change", async ({ target }) => {
  await keep();
  hold(Number(target.value));
});
$("seat-before").addEventListener("click", () => beside(-1));
$("seat-next").addEventListener("click", () => beside(1));
$("seat-rule").addEventListener("click", async () => {
  clearTimeout(timer);
  held.changed = false;
  const { n } = held;
  const answer = await ask(`${n}/seat`, null);
  if (refused(answer)) return;
  fresh(answer, n);
  told(answer);
});
$("seat-out").addEventListener("click", async () => {
  clearTimeout(timer);
  const { n, name } = held;
  const answer = await ask(`${n}/out`);
  if (refused(answer)) return;
  held = null;
  $("seat").close();
  await follow();
  await cells();
  notice(`“${name}” is left out.`, "", [
    "Put it back",
    async () => {
      await ask(`${n}/out?back=${answer.back}`);
      await follow();
      await cells();
    },
  ]);
});
$("seat-done").addEventListener("click", () => $("seat").close());
$("seat").addEventListener("close", () => {
  keep();
  const from = held && $(`cell-${held.photos[0][0]}`);
  held = null;
  from?.focus();
});
addEventListener("pagehide", () => {
  if (!held?.changed) return;
  const headers = { "X-CSRFToken": token };
  fetch(`${at}${held.n}/seat`, { method: "POST", headers, body: JSON.stringify(held.seat), keepalive: true });
});

watch();
follow();
example();
document.documentElement.dataset.ready = "yes";
