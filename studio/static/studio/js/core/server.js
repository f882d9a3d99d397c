// Commands go to the server one after another, each based on the revision that the one before left.
import { ask, askHtml, askImage, leave as leaving, read, send, upload } from "./http.js";
import { patience } from "./progress.js";
import { latest, queue } from "./queue.js";
import { change, viewState, state, emit } from "./state.js";

const line = queue();
const newId = () => (crypto.randomUUID ? crypto.randomUUID() : `${Date.now()}-${Math.random()}`);
const say = (text) => emit("busy", { text });

export const { defer, flush, idle } = line;

async function post(url, body, id, signal) {
  for (let tries = 0; ; tries++) {
    try {
      const data = { ...body, id, revision: state.revision, view: viewState() };
      // small requests outlive the page
      const keepalive = JSON.stringify(data).length < 30000;
      // the same id again, as below
      return await send(url, { data, signal, keepalive, say });
    } catch (error) {
      // the same id again: if the first one arrived after all, this one changes nothing
      if (tries === 3 || error.name === "AbortError") throw error;
      say("No connection, retrying…");
      await new Promise((done) => setTimeout(done, 400 * 2 ** tries));
    }
  }
}

const WORKING = { silhouette: "Tracing…", combine: "Combining…", apart: "Dividing…" };
// `choices` is the number of selections made when the command was given.
async function once(name, args, choices) {
  const id = newId();
  const stop = new AbortController();
  const done = patience(WORKING[name] || "Working…", () => stop.abort());
  let response;
  try {
    response = await post(state.urls.command, { name, args }, id, stop.signal);
  } catch (error) {
    if (error.name === "AbortError") {
      // it may have arrived: the server undoes it, or does not begin it
      const answer = await once("stop", { id }, choices);
      return answer.error ? answer : { error: "Stopped: nothing was changed.", remedy: "", stopped: true };
    }
    return {
      error: "The server does not answer.",
      remedy: "What is saved is safe; try again in a moment.",
      failed: true,
    };
  } finally {
    done();
  }
  const answer = await read(response);
  if (answer.failed) return answer;
  // a selection made since then stays, and its panels are shown; inside a frame undo leaves one with the photo
  const inside = ["undo", "redo"].includes(name) && state.inside && answer.chosen?.join() === state.inside;
  const changedSince = state.choices !== choices || inside;
  if (changedSince) delete answer.chosen;
  if (response.ok || response.status === 409) emit("answer", answer);
  if (changedSince) askPanels();
  if (answer.note) emit("note", { words: answer.note, offer: answer.offer });
  if (response.status === 409) return { error: answer.notice, remedy: "", conflict: true };
  return answer;
}

// Commands that use up their target: a second press before the answer is the same press.
const ONCE = [
  "combine",
  "apart",
  "put_in",
  "take_out",
  "group",
  "ungroup",
  "make_plain",
  "take_apart",
  "split",
  "remove",
];
let under = { key: "", answer: null };

// Send a command; resolves to the answer, or to { error, remedy, field }.
// `again` repeats it on the newer revision if another window was quicker: for commands that cannot miss their target.
export function command(name, args = {}, options = {}) {
  const key = ONCE.includes(name) ? JSON.stringify([name, args]) : "";
  if (key && key === under.key) return under.answer;
  const answer = sent(name, args, options);
  under = { key, answer };
  answer.then(() => {
    if (under.answer === answer) under = { key: "", answer: null };
  });
  return answer;
}

async function sent(name, args, { quiet = false, again = false }) {
  flush();
  emit("busy", { text: "saving" });
  const { choices } = state;
  let answer;
  try {
    answer = await line.push(() => once(name, args, choices));
    if (answer.conflict && again) answer = await line.push(() => once(name, args, choices));
  } catch (error) {
    console.error(error);
    answer = { error: "Something went wrong in the page.", remedy: "Reload it; what is saved is safe.", failed: true };
  }
  if (line.waiting === 0) emit("busy", { text: answer.error && !answer.field ? "No change" : "saved" });
  if (!answer.error && /^(paint|gradient|copy_paint)/.test(name)) change({ painted: args.ids?.[0] ?? "" }, "painted");
  if (answer.error && (!quiet || answer.failed)) emit("refused", answer);
  return answer;
}

// Rename the project; resolves to { name } or to { error, remedy }.
export const rename = (name) => ask(state.urls.project_rename, { method: "POST", body: new URLSearchParams({ name }) });

// Send a command while the page is closing.
export const leave = (name, args) =>
  leaving(state.urls.command, { name, args, id: newId(), revision: state.revision, view: {} });

// Panels for the selection.
export const askPanels = latest(async (_, overtaken) => {
  await line.idle();
  const now = viewState();
  const { revision } = state;
  const stop = new AbortController();
  const done = patience(now.station === "cut" ? "Working out what each card would give" : "Loading…", () =>
    stop.abort(),
  );
  try {
    // posted, since a long selection does not fit into an address
    const answer = await ask(`${state.urls.panels}?station=${now.station}`, { data: now, signal: stop.signal });
    if (answer.silent) return say("no connection");
    if (answer.error) {
      if (!overtaken()) emit("refused", answer);
      return;
    }
    // another selection or a command's own answer may have come first
    if (revision !== state.revision || JSON.stringify(now) !== JSON.stringify(viewState())) askPanels();
    else if (answer.revision !== revision) catchUp();
    else emit("panels", answer.panels);
  } catch {
    // it was aborted
  } finally {
    done();
  }
});

// A window that was in the background is updated before the person acts.
export async function catchUp() {
  await line.idle();
  const answer = await ask(`${state.urls.now}?revision=${state.revision}`, { data: viewState() });
  if (answer.silent) say("no connection");
  if (answer.order && answer.revision !== state.revision && line.waiting === 0) {
    emit("answer", answer);
    emit("note", { words: "This project was changed in another window. This is how it is now." });
  }
}

// A preview of a command on outline `id`; a second one is worked out while the first is on its way.
const looking = latest(async ({ id, args, show, name, margins, none }, _, outdated) => {
  const data = { name: id, args, command: name, margins, of: viewState().margins, revision: state.revision };
  const answer = await ask(state.urls.preview, { data });
  if (outdated()) return;
  if (answer.error) none();
  else show(answer);
}, 2);
export const askPreview = (id, args, show, name = "transform", margins = false, none = () => {}) =>
  looking({ id, args, show, name, margins, none });

// Ask for a preview in the current mode on this revision; { late } if it is outdated.
async function askOf(url, args) {
  await line.idle();
  try {
    const response = await send(url, { data: { revision: state.revision, args } });
    return response.status === 409 ? { late: true } : await read(response);
  } catch {
    return { late: true };
  }
}
// A preview of a silhouette: { d, share, nodes }, { error, remedy }, or { late }.
export const askSilhouette = (args, whole = false) => askOf(`${state.urls.silhouette}${whole ? "?whole=1" : ""}`, args);
// A preview of a refit: { art, box, size, pins, bands }, { error, remedy, field }, or { late }.
export const askRefit = (args) => askOf(state.urls.refit, args);

// Send the result of `data` once nothing else is in flight; resolves to the answer, or to { error, remedy }.
async function answered(url, data) {
  await line.idle();
  return ask(url, { data: data() });
}

// Whether a command can begin with the selection, as the command itself says; if not, show why.
export async function may(name) {
  const answer = await answered(state.urls.may, () => ({ command: name, ids: state.chosen }));
  if (answer.error) emit("refused", answer);
  return !answer.error;
}

// A picture of the export: all of it by `docket`, a part px for px by `lens`; { picture, size }, or { error, remedy }.
export async function askPicture(url, asked) {
  await line.idle();
  return askImage(url, asked);
}

// Order an export; resolves to the response.
export async function askExport(order, signal) {
  await line.idle();
  return send(state.urls.export, { data: order, signal, say });
}

// The pictures of the tray as HTML, after clearing unused ones if asked for; null if they are not
// available now.
export async function askTray(clear = false) {
  if (clear) await line.idle();
  return askHtml(state.urls.tray, { method: clear ? "POST" : "GET" });
}

// The list of exports: { html, rows }, or { error, remedy }.
export const askExports = () => ask(state.urls.exports);

// Stop an export in progress, or remove one from the list.
export async function tellExport(id, what) {
  const answer = await ask(`${state.urls.exports}/${id}/${what}`, { method: "POST" });
  if (answer.error) emit("refused", answer);
}

// The approximate size of the export, in words; empty if it cannot be estimated.
export async function askEstimate(order, signal) {
  const answer = await ask(state.urls.estimate, { data: order, signal }).catch(() => ({}));
  return answer.words || "";
}

// The state of photos being read, by their jobs: the photo, { error, remedy }, or null; or stop them.
export async function askBrought(jobs, stop = false) {
  const answer = await ask(state.urls.brought, { data: { jobs, stop } });
  return answer.error ? {} : answer;
}

// Send one file, with progress; resolves to the stored photo or { error, remedy }. One of many is read `later`: this
// resolves to its job.
export function sendFile(file, progress, signal, later = false) {
  const form = new FormData();
  form.append("photo", file, file.name || "pasted.png");
  if (later) form.append("later", "1");
  const refused = { error: `“${file.name}” was not taken.`, remedy: "It may be too large for this server." };
  return upload(state.urls.bring_in, form, progress, { signal, say, refused });
}

// Send one font or profile; resolves to { key, name, kind } or { error, remedy }.
export async function sendOwnFile(use, file) {
  const body = new FormData();
  body.append("file", file, file.name);
  return ask(state.urls[use], { method: "POST", body });
}

// Start a batch with the selection; resolves to its address, or to { error, remedy }.
export const beginRun = (ids) => answered(state.urls.batch_begin, () => ({ ids }));

// Tiles of the shelf, or of the ready outlines, as HTML; null if they do not come.
export const askTiles = (name) => askHtml(state.urls[`${name}_tiles`]);

// Rows of the stack as HTML; null if they do not come.
export const askRows = (ids) => askHtml(state.urls.rows, { data: { ids } });

// Add an item to the shelf; resolves to its number, version and name, or to { error, remedy, field }.
export const keepOutline = (asked) => answered(state.urls.shelf_add, () => ({ ...asked, revision: state.revision }));
