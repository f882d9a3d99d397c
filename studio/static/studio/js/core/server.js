// Commands go to the server one after another, each made on the revision the one before it left.
import { trying } from "./busy.js";
import { patience } from "./progress.js";
import { latest, queue } from "./queue.js";
import { change, viewState, state, tell } from "./state.js";

// the cookie, since signing in again in another tab gives a new one, with which this window goes on by itself
const token = () =>
  /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ||
  document.querySelector("input[name=csrfmiddlewaretoken]").value;
const headers = () => ({ "X-CSRFToken": token(), "Content-Type": "application/json" });
const line = queue();
const newId = () => (crypto.randomUUID ? crypto.randomUUID() : `${Date.now()}-${Math.random()}`);

export const { hold, flush, idle } = line;

async function post(url, body, id, signal) {
  for (let tries = 0; ; tries++) {
    try {
      const sent = JSON.stringify({ ...body, id, revision: state.revision, view: viewState() });
      // small ones outlive the page
      const keepalive = sent.length < 30000;
      const request = { method: "POST", signal, body: sent, keepalive };
      // the same id again, as below
      return await trying(
        () => fetch(url, { ...request, headers: headers() }),
        (text) => tell("busy", { text }),
      );
    } catch (error) {
      // the same id again: if the first one arrived after all, it changes nothing more
      if (tries === 3 || error.name === "AbortError") throw error;
      tell("busy", { text: "No connection, retrying…" });
      await new Promise((done) => setTimeout(done, 400 * 2 ** tries));
    }
  }
}

const WORKING = { silhouette: "Tracing…", combine: "Combining…", apart: "Dividing…" };
const isJson = (response) => (response.headers.get("Content-Type") || "").includes("json");

// What an answer that is none of ours means: three different words.
function trouble(response) {
  if (response.redirected || response.status === 403) {
    return { error: "You are signed out.", remedy: "Sign in in another tab; this one then goes on.", failed: true };
  }
  return {
    error: "The server has a problem.",
    remedy: "Nothing was changed; it is noted there. Try again.",
    failed: true,
  };
}

// `choices` is how often something had been chosen when the command was given.
async function once(name, args, choices) {
  const id = newId();
  const stop = new AbortController();
  const done = patience(WORKING[name] || "Working…", () => stop.abort());
  let response;
  try {
    response = await post(state.urls.command, { name, args }, id, stop.signal);
  } catch (error) {
    if (error.name === "AbortError") {
      // it may be half-way there: the server takes it back, or does not begin it
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
  if (!isJson(response)) return trouble(response);
  const answer = await response.json();
  // what the person chose meanwhile stays chosen, and its panels are shown; inside a frame undo leaves one with the photo
  const inside = ["undo", "redo"].includes(name) && state.inside && answer.chosen?.join() === state.inside;
  const meanwhile = state.choices !== choices || inside;
  if (meanwhile) delete answer.chosen;
  if (response.ok || response.status === 409) tell("answer", answer);
  if (meanwhile) askPanels();
  if (answer.note) tell("note", { words: answer.note, offer: answer.offer });
  if (response.status === 409) return { error: answer.notice, remedy: "", conflict: true };
  return answer;
}

// What uses up what it is done to: pressed again before its answer is here, it is the same press.
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
// `again` does it once more on the newer revision where another window was quicker: for what cannot miss its aim.
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
  tell("busy", { text: "saving" });
  const { choices } = state;
  let answer;
  try {
    answer = await line.push(() => once(name, args, choices));
    if (answer.conflict && again) answer = await line.push(() => once(name, args, choices));
  } catch (error) {
    console.error(error);
    answer = { error: "Something went wrong in the page.", remedy: "Reload it; what is saved is safe.", failed: true };
  }
  if (line.waiting === 0) tell("busy", { text: answer.error && !answer.field ? "No change" : "saved" });
  if (!answer.error && /^(paint|gradient|copy_paint)/.test(name)) change({ painted: args.ids?.[0] ?? "" }, "painted");
  if (answer.error && (!quiet || answer.failed)) tell("refused", answer);
  return answer;
}

// Give the project another name; resolves to { name } or to { error, remedy }.
export async function rename(name) {
  const body = new URLSearchParams({ name });
  const response = await trying(() =>
    fetch(state.urls.project_rename, {
      method: "POST",
      headers: { "X-CSRFToken": token(), Accept: "application/json" },
      body,
    }),
  );
  return isJson(response) ? response.json() : trouble(response);
}

// Send a command while the page goes away: nothing waits for its answer.
export function leave(name, args) {
  const body = JSON.stringify({ name, args, id: newId(), revision: state.revision, view: {} });
  fetch(state.urls.command, { method: "POST", headers: headers(), body, keepalive: true }).catch(() => {});
}

// Panels for what is selected.
export const askPanels = latest(async (_, overtaken) => {
  await line.idle();
  const now = viewState();
  const { revision } = state;
  const stop = new AbortController();
  const done = patience(now.station === "cut" ? "Working out what each card would give" : "Loading…", () =>
    stop.abort(),
  );
  try {
    // a long choice does not fit into an address
    const body = JSON.stringify(now);
    const response = await fetch(`${state.urls.panels}?station=${now.station}`, {
      method: "POST",
      headers: headers(),
      body,
      signal: stop.signal,
    });
    if (!response.ok || !isJson(response)) {
      const answer = isJson(response) ? await response.json() : trouble(response);
      if (!overtaken()) tell("refused", answer);
      return;
    }
    const answer = await response.json();
    // what was asked may have been overtaken by another choice or by a command's own answer
    if (revision !== state.revision || JSON.stringify(now) !== JSON.stringify(viewState())) askPanels();
    else if (answer.revision !== revision) catchUp();
    else tell("panels", answer.panels);
  } catch (error) {
    if (error.name !== "AbortError") tell("busy", { text: "no connection" });
  } finally {
    done();
  }
});

// A window that was left behind learns of it before the hand acts.
export async function catchUp() {
  await line.idle();
  try {
    const response = await fetch(`${state.urls.now}?revision=${state.revision}`, {
      method: "POST",
      headers: headers(),
      body: JSON.stringify(viewState()),
    });
    if (!response.ok || !isJson(response)) return;
    const answer = await response.json();
    if (answer.order && answer.revision !== state.revision && line.waiting === 0) {
      tell("answer", answer);
      tell("note", { words: "This project was changed in another window. This is how it is now." });
    }
  } catch {
    tell("busy", { text: "no connection" });
  }
}

// What a command would make of outline `id`.
const looking = latest(async ({ id, args, show, name, margins, none }) => {
  const body = JSON.stringify({
    name: id,
    args,
    command: name,
    margins,
    of: viewState().margins,
    revision: state.revision,
  });
  try {
    const response = await fetch(state.urls.preview, { method: "POST", headers: headers(), body });
    if (response.ok) show(await response.json());
    else none();
  } catch {
    // the drop is answered all the same
  }
});
export const askPreview = (id, args, show, name = "transform", margins = false, none = () => {}) =>
  looking({ id, args, show, name, margins, none });

// What a silhouette would be: { d, share, nodes }, { error, remedy }, or { late } where it is of no use any more.
export async function askSilhouette(args, whole = false) {
  await line.idle();
  const body = JSON.stringify({ revision: state.revision, args });
  try {
    const response = await fetch(`${state.urls.silhouette}${whole ? "?whole=1" : ""}`, {
      method: "POST",
      headers: headers(),
      body,
    });
    if (response.status === 409) return { late: true };
    return isJson(response) ? await response.json() : trouble(response);
  } catch {
    return { late: true };
  }
}

// Send what `data` gives once nothing else is on its way; resolves to the answer, or to { error, remedy }.
async function answered(url, data) {
  await line.idle();
  try {
    const body = JSON.stringify(data());
    const response = await trying(() => fetch(url, { method: "POST", headers: headers(), body }));
    return isJson(response) ? await response.json() : trouble(response);
  } catch {
    return { error: "The server does not answer.", remedy: "Try again in a moment." };
  }
}

// Whether a command can begin with what is selected, asked of the command itself; why not is told.
export async function may(name) {
  const answer = await answered(state.urls.may, () => ({ command: name, ids: state.chosen }));
  if (answer.error) tell("refused", answer);
  return !answer.error;
}

// What a refit would make: { art, box, size, pins, bands }, { error, remedy, field }, or { late }.
export async function askRefit(args) {
  await line.idle();
  const body = JSON.stringify({ revision: state.revision, args });
  try {
    const response = await fetch(state.urls.refit, { method: "POST", headers: headers(), body });
    if (response.status === 409) return { late: true };
    return isJson(response) ? await response.json() : trouble(response);
  } catch {
    return { late: true };
  }
}

// A picture of what is ordered: all of it by `docket`, a part px for px by `lens`; { picture, size }, or { error, remedy }.
export async function askPicture(url, asked) {
  await line.idle();
  try {
    const response = await fetch(url, { method: "POST", headers: headers(), body: JSON.stringify(asked) });
    if (response.ok && !isJson(response) && !response.redirected) {
      const size = (response.headers.get("X-Size") || "").split(" ").map(Number);
      return { picture: await response.blob(), size };
    }
    return isJson(response) ? await response.json() : trouble(response);
  } catch {
    return { error: "The server does not answer.", remedy: "Try again in a moment." };
  }
}

// Order what goes out; resolves to the response.
export async function askExport(order, signal) {
  await line.idle();
  const request = { method: "POST", body: JSON.stringify(order), signal };
  return trying(
    () => fetch(state.urls.export, { ...request, headers: headers() }),
    (text) => tell("busy", { text }),
  );
}

// The pictures of the tray as HTML, once unused ones were cleared away where that is wanted; null where they cannot be
// had now.
export async function askTray(clear = false) {
  if (clear) await line.idle();
  try {
    const how = clear ? { method: "POST", headers: headers() } : { headers: { Accept: "text/html" } };
    const response = await fetch(state.urls.tray, how);
    return response.ok ? await response.text() : null;
  } catch {
    return null;
  }
}

// What was exported: { html, rows }, or { error, remedy }.
export async function askExports() {
  try {
    const response = await fetch(state.urls.exports, { headers: { Accept: "application/json" } });
    return isJson(response) ? await response.json() : trouble(response);
  } catch {
    return { error: "The server does not answer.", remedy: "Try again in a moment." };
  }
}

// Stop an export that is under way, or forget one.
export async function tellExport(id, what) {
  try {
    await fetch(`${state.urls.exports}/${id}/${what}`, { method: "POST", headers: headers() });
  } catch {
    tell("refused", { error: "The server does not answer.", remedy: "Try again in a moment." });
  }
}

// About how large what is ordered will be, in words; empty where that cannot be said.
export async function askEstimate(order, signal) {
  try {
    const body = JSON.stringify(order);
    const response = await fetch(state.urls.estimate, { method: "POST", headers: headers(), body, signal });
    return response.ok && isJson(response) ? (await response.json()).words : "";
  } catch {
    return "";
  }
}

// How many that are being read are, by their jobs: the photo, { error, remedy }, or null; or stop them.
export async function askBrought(jobs, stop = false) {
  try {
    const body = JSON.stringify({ jobs, stop });
    const response = await fetch(state.urls.brought, { method: "POST", headers: headers(), body });
    return isJson(response) && response.ok ? await response.json() : {};
  } catch {
    return {};
  }
}

// Send one file, with progress; resolves to the stored photo or { error, remedy }. One of many is read `later`: its
// job comes back.
export async function sendFile(file, progress, signal, later = false) {
  let answer;
  const send = async () => {
    answer = await sendOnce(file, progress, signal, later);
    return { busy: Boolean(answer.busy) };
  };
  await trying(send, (text) => tell("busy", { text }));
  return answer;
}

// Send one font; resolves to { key, name, kind } or { error, remedy }.
export async function sendFont(file) {
  const body = new FormData();
  body.append("font", file, file.name);
  const asked = { "X-CSRFToken": token(), Accept: "application/json" };
  try {
    const response = await trying(() => fetch(state.urls.fonts, { method: "POST", headers: asked, body }));
    return isJson(response) ? await response.json() : trouble(response);
  } catch {
    return { error: "The server does not answer.", remedy: "Try again in a moment." };
  }
}

function sendOnce(file, progress, signal, later) {
  return new Promise((done) => {
    const request = new XMLHttpRequest();
    const body = new FormData();
    body.append("photo", file, file.name || "pasted.png");
    if (later) body.append("later", "1");
    request.open("POST", state.urls.bring_in);
    request.setRequestHeader("X-CSRFToken", token());
    request.setRequestHeader("Accept", "application/json");
    request.upload.addEventListener("progress", (event) => progress(event.loaded / Math.max(1, event.total)));
    request.addEventListener("load", () => {
      try {
        done(JSON.parse(request.responseText));
      } catch {
        done({ error: `“${file.name}” was not taken.`, remedy: "It may be too large for this server." });
      }
    });
    request.addEventListener("error", () =>
      done({ error: "The server does not answer.", remedy: "Try again in a moment." }),
    );
    request.addEventListener("abort", () => done({ stopped: true }));
    signal.addEventListener("abort", () => request.abort());
    request.send(body);
  });
}

// Begin a batch of what is selected; resolves to its address, or to { error, remedy }.
export const beginRun = (ids) => answered(state.urls.batch_begin, () => ({ ids }));

// Tiles of the shelf, or of the ready outlines, as HTML; empty where they do not come.
export async function askTiles(name) {
  try {
    const response = await fetch(state.urls[`${name}_tiles`], { headers: { Accept: "text/html" } });
    return response.ok && !response.redirected ? await response.text() : "";
  } catch {
    return "";
  }
}

// Rows of the stack as HTML; empty where they do not come.
export async function askRows(ids) {
  try {
    const response = await fetch(state.urls.rows, {
      method: "POST",
      headers: headers(),
      body: JSON.stringify({ ids }),
    });
    return response.ok && !response.redirected && !isJson(response) ? await response.text() : "";
  } catch {
    return "";
  }
}

// Keep an item on the shelf; resolves to its number, version and name, or to { error, remedy, field }.
export const keepOutline = (told) => answered(state.urls.keep, () => ({ ...told, revision: state.revision }));
