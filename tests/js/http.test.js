import assert from "node:assert/strict";
import { afterEach, test } from "node:test";
import { ask, askHtml, leave, send } from "../../studio/static/studio/js/core/http.js";

globalThis.document = { cookie: "a=1; csrftoken=abc", querySelector: () => null };
const plain = globalThis.fetch;
let asked = [];
// Answer what is asked, one after another, by these; a function throws or makes the answer.
function answering(...answers) {
  asked = [];
  globalThis.fetch = async (url, init) => {
    asked.push([url, init]);
    const next = answers.shift();
    return typeof next === "function" ? next() : next;
  };
}
afterEach(() => {
  globalThis.fetch = plain;
});
const json = (body, status = 200, headers = {}) =>
  new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json", ...headers } });
const html = (body, status = 200, headers = {}) =>
  new Response(body, { status, headers: { "Content-Type": "text/html; charset=utf-8", ...headers } });

test("data is posted as JSON with the page's token, a question carries none", async () => {
  answering(json({ d: "M0 0" }), json({ n: 1 }));
  assert.deepEqual(await ask("/p/1/command", { data: { name: "undo" } }), { d: "M0 0" });
  assert.deepEqual(await ask("/p/1/snaps"), { n: 1 });
  const [[, posted], [, got]] = asked;
  assert.equal(posted.method, "POST");
  assert.equal(posted.body, '{"name":"undo"}');
  assert.equal(posted.headers["X-CSRFToken"], "abc");
  assert.equal(got.method, undefined);
  assert.equal(got.headers["X-CSRFToken"], undefined);
});

test("a refusal is the answer, whatever its status", async () => {
  answering(json({ error: "The height must be greater than 0.", field: "height" }, 422));
  assert.equal((await ask("/")).field, "height");
});

test("what is no answer of ours is said in words: signed out, broken, silent", async () => {
  answering(html("Sign in", 403), html("Oh", 500), () => {
    throw new TypeError("Failed to fetch");
  });
  assert.equal((await ask("/")).error, "You are signed out.");
  assert.equal((await ask("/")).error, "The server has a problem.");
  const silent = await ask("/");
  assert.equal(silent.error, "The server does not answer.");
  assert.ok(silent.silent);
});

test("who stops it hears of that", async () => {
  answering(() => {
    throw new DOMException("stopped", "AbortError");
  });
  await assert.rejects(ask("/"), { name: "AbortError" });
});

test("what is busy is sent again with the same body, and that is said", async () => {
  const said = [];
  answering(json({ busy: true }, 503, { "Retry-After": "2" }), json({ ok: true }));
  const response = await send("/", { data: { id: "one" }, say: (words) => said.push(words) });
  assert.deepEqual(await response.json(), { ok: true });
  assert.deepEqual(
    asked.map(([, { body }]) => body),
    ['{"id":"one"}', '{"id":"one"}'],
  );
  assert.deepEqual(said, ["Server busy, retrying…"]);
});

test("a piece of a page is HTML or nothing", async () => {
  answering(html("<p>tile</p>"), html("Not found", 404), json({ error: "no" }, 422));
  assert.equal(await askHtml("/tray"), "<p>tile</p>");
  assert.equal(await askHtml("/tray"), null);
  assert.equal(await askHtml("/tray"), null);
});

test("what is sent while the page goes away outlives it, and nobody waits", () => {
  answering(() => {
    throw new TypeError("gone");
  });
  assert.equal(leave("/p/1/command", { name: "nudge" }), undefined);
  assert.equal(asked[0][1].keepalive, true);
});
