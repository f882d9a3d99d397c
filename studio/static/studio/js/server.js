// Commands go to the server one after another, each made on the revision the one before it left.
import { patience } from "./progress.js";
import { look, state, tell } from "./state.js";

const token = () => document.querySelector("input[name=csrfmiddlewaretoken]").value;
let queue = Promise.resolve();
let waiting = 0;

async function post(url, body, id, signal) {
  const options = { method: "POST", headers: { "X-CSRFToken": token(), "Content-Type": "application/json" } };
  for (let tries = 0; ; tries++) {
    try {
      return await fetch(url, { ...options, signal, body: JSON.stringify({ ...body, id, revision: state.revision, look: look() }) });
    } catch (error) {
      // the same id again: if the first one arrived after all, it changes nothing more
      if (tries === 3 || error.name === "AbortError") throw error;
      tell("busy", { text: "no connection, trying again" });
      await new Promise((done) => setTimeout(done, 400 * 2 ** tries));
    }
  }
}

const WORKING = { union: "Uniting them", subtract: "Subtracting", intersect: "Intersecting", exclude: "Excluding", divide: "Dividing them" };

async function once(name, args) {
  const id = crypto.randomUUID ? crypto.randomUUID() : `${Date.now()}-${Math.random()}`;
  let response;
  const chosen = JSON.stringify(state.chosen);
  const stop = new AbortController();
  const done = patience(WORKING[args.operation] || "Working on it", () => stop.abort());
  try {
    response = await post(state.urls.command, { name, args }, id, stop.signal);
  } catch (error) {
    if (error.name === "AbortError") {
      // it may be half-way there: the server takes it back, or does not begin it
      done();
      const answer = await once("stop", { id });
      return answer.error ? answer : { error: "Stopped: nothing was changed.", remedy: "", stopped: true };
    }
    return { error: "The server does not answer.", remedy: "What is saved is safe; try again in a moment.", failed: true };
  }
  done();
  if (response.redirected || !(response.headers.get("Content-Type") || "").includes("json")) {
    return { error: "You are signed out, or the server has a problem.", remedy: "Reload the page.", failed: true };
  }
  const answer = await response.json();
  // what the person chose meanwhile stays chosen; its panels are asked for already
  if (JSON.stringify(state.chosen) !== chosen) delete answer.chosen;
  if (response.ok || response.status === 409) tell("answer", answer);
  if (answer.note) tell("note", answer.note);
  if (response.status === 409) return { error: answer.notice, remedy: "", conflict: true };
  return answer;
}

// Send a command; resolves to the answer, or to { error, remedy, field }.
export function command(name, args = {}, { quiet = false } = {}) {
  waiting++;
  tell("busy", { text: "saving" });
  const result = queue.then(() => once(name, args));
  queue = result.then(
    (answer) => {
      if (--waiting === 0) tell("busy", { text: answer.error && !answer.field ? "not changed" : "saved" });
      if (answer.error && (!quiet || answer.failed)) tell("refused", answer);
    },
    (error) => {
      waiting--;
      console.error(error);
    },
  );
  return result;
}

// Panels for what is chosen: one request in flight, the latest wins.
let asking = false;
let again = false;
export async function askPanels() {
  if (asking) {
    again = true;
    return;
  }
  asking = true;
  do {
    again = false;
    await queue;
    const now = look();
    const revision = state.revision;
    const query = JSON.stringify({ ...now, chosen: now.chosen });
    const stop = new AbortController();
    const done = patience(now.station === "cut" ? "Working out what each card would give" : "Looking", () => stop.abort());
    try {
      // a long choice does not fit into an address
      const headers = { "X-CSRFToken": token(), "Content-Type": "application/json" };
      const response = await fetch(`${state.urls.panels}?station=${now.station}`, { method: "POST", headers, body: query, signal: stop.signal });
      const shown = response.ok ? (await response.json()).panels : null;
      // what was asked may have been overtaken by another choice or by a command's own answer
      if (revision !== state.revision || JSON.stringify(now) !== JSON.stringify(look())) again = true;
      if (shown && !again) tell("panels", shown);
    } catch (error) {
      if (error.name !== "AbortError") tell("busy", { text: "no connection" });
    } finally {
      done();
    }
  } while (again);
  asking = false;
}

// What a move of `ids` would make of outline `id`: one request in flight, the latest wins.
let looking = false;
let wanted = null;
export async function askPreview(id, args, show, name = "transform", margins = false) {
  wanted = { id, args, show, name, margins };
  if (looking) return;
  looking = true;
  while (wanted) {
    const now = wanted;
    wanted = null;
    try {
      const body = JSON.stringify({ name: now.id, args: now.args, command: now.name, margins: now.margins, revision: state.revision });
      const headers = { "X-CSRFToken": token(), "Content-Type": "application/json" };
      const response = await fetch(state.urls.preview, { method: "POST", headers, body });
      if (response.ok) now.show(await response.json());
    } catch {
      wanted = null;
    }
  }
  looking = false;
}

// Send one file, with progress; resolves to the stored photo or { error, remedy }.
export function sendFile(file, progress, signal) {
  return new Promise((done) => {
    const request = new XMLHttpRequest();
    const body = new FormData();
    body.append("photo", file, file.name || "pasted.png");
    request.open("POST", state.urls.bring_in);
    request.setRequestHeader("X-CSRFToken", token());
    request.upload.addEventListener("progress", (event) => progress(event.loaded / Math.max(1, event.total)));
    request.addEventListener("load", () => {
      try {
        done(JSON.parse(request.responseText));
      } catch {
        done({ error: `“${file.name}” was not taken.`, remedy: "It may be too large for this server." });
      }
    });
    request.addEventListener("error", () => done({ error: "The server does not answer.", remedy: "Try again in a moment." }));
    request.addEventListener("abort", () => done({ stopped: true }));
    signal.addEventListener("abort", () => request.abort());
    request.send(body);
  });
}
