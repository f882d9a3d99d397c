// The only way to the server: every page sends its requests here.
import { trying } from "./busy.js";

// from the cookie, since signing in again in another tab changes it, and this window can continue
export const token = () =>
  /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ||
  document.querySelector("input[name=csrfmiddlewaretoken]").value;

const SILENT = { error: "The server does not answer.", remedy: "Try again in a moment.", failed: true, silent: true };
const SIGNED_OUT = {
  error: "You are signed out.",
  remedy: "Sign in in another tab; this one then goes on.",
  failed: true,
};
const BROKEN = {
  error: "The server has a problem.",
  remedy: "Nothing was changed; it is noted there. Try again.",
  failed: true,
};

const has = (response, kind) => (response.headers.get("Content-Type") || "").includes(kind);
const isSignedOut = (response) => response.redirected || response.status === 403;

/**
 * Send a request, retrying while the server is busy; resolves to the response. Throws if the server does not answer.
 *
 * @param {string} url
 * @param {RequestInit & { data?: any, accept?: string, say?: (words: string) => void }} [how] `data` is posted as
 *   JSON; `say` is called before each retry
 * @returns {Promise<Response>}
 */
export function send(url, { data, accept = "application/json", say, ...init } = {}) {
  const posted = data !== undefined ? { method: "POST", body: JSON.stringify(data) } : {};
  const request = () => {
    /** @type {Record<string, string>} */
    const headers = { Accept: accept };
    if (data !== undefined) headers["Content-Type"] = "application/json";
    if ((init.method || posted.method || "GET") !== "GET") headers["X-CSRFToken"] = token();
    return fetch(url, { ...posted, ...init, headers });
  };
  return trying(request, say);
}

/**
 * The JSON of a response, or why there is none: { error, remedy, failed }.
 *
 * @param {Response} response
 * @returns {Promise<any>}
 */
export async function read(response) {
  if (has(response, "json")) return response.json();
  if (isSignedOut(response)) return SIGNED_OUT;
  return response.ok ? {} : BROKEN;
}

/**
 * Ask for JSON; throws only if it was aborted: errors are in the answer, in words.
 *
 * @param {string} url
 * @param {Parameters<typeof send>[1]} [how]
 * @returns {Promise<any>}
 */
export async function ask(url, how = {}) {
  try {
    return await read(await send(url, how));
  } catch (error) {
    if (error.name === "AbortError") throw error;
    return SILENT;
  }
}

/**
 * Ask for a piece of a page; null if it does not come.
 *
 * @param {string} url
 * @param {Parameters<typeof send>[1]} [how]
 * @returns {Promise<string | null>}
 */
export async function askHtml(url, how = {}) {
  try {
    const response = await send(url, { accept: "text/html", ...how });
    return response.ok && !response.redirected && has(response, "html") ? await response.text() : null;
  } catch {
    return null;
  }
}

/**
 * Ask for a picture: { picture, size } with its `size` in px if the server sends it, or { error, remedy, failed }.
 *
 * @param {string} url
 * @param {any} data
 * @returns {Promise<any>}
 */
export async function askImage(url, data) {
  try {
    const response = await send(url, { data });
    if (!response.ok || has(response, "json") || isSignedOut(response)) return await read(response);
    return { picture: await response.blob(), size: (response.headers.get("X-Size") || "").split(" ").map(Number) };
  } catch {
    return SILENT;
  }
}

/**
 * Send a form with its files; resolves to the answer, { stopped } or { error, remedy }. Only XMLHttpRequest reports
 * the progress of an upload.
 *
 * @param {string} url
 * @param {FormData} form
 * @param {(share: number) => void} progress
 * @param {{ signal?: AbortSignal, say?: (words: string) => void, refused?: object }} [how] `refused` is the answer
 *   if the server in front refuses the form, as it does one that is too large
 * @returns {Promise<any>}
 */
export async function upload(url, form, progress, { signal, say, refused = BROKEN } = {}) {
  const once = () =>
    new Promise((done) => {
      const request = new XMLHttpRequest();
      request.open("POST", url);
      request.responseType = "json";
      // the token is in a header: it is checked before the body arrives
      request.setRequestHeader("X-CSRFToken", token());
      request.setRequestHeader("Accept", "application/json");
      request.upload.addEventListener("progress", ({ loaded, total }) => progress(loaded / Math.max(1, total)));
      request.addEventListener("load", () => done(request.response ?? refused));
      request.addEventListener("error", () => done(SILENT));
      request.addEventListener("abort", () => done({ stopped: true }));
      signal?.addEventListener("abort", () => request.abort());
      request.send(form);
    });
  return trying(once, say);
}

// Send something while the page is closing: nothing waits for its answer.
export const leave = (url, data) => void send(url, { data, keepalive: true }).catch(() => {});
