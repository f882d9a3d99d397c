import assert from "node:assert/strict";
import { test } from "node:test";
import { latest, queue } from "../../studio/static/studio/js/core/queue.js";

const later = (value, ms = 5) => new Promise((done) => setTimeout(() => done(value), ms));

test("jobs are done one after another, in order", async () => {
  const line = queue();
  const done = [];
  const all = [30, 1, 10].map((ms, k) =>
    line.push(async () => {
      await later(k, ms);
      done.push(k);
      return k;
    }),
  );
  assert.equal(line.waiting, 3);
  assert.deepEqual(await Promise.all(all), [0, 1, 2]);
  assert.deepEqual(done, [0, 1, 2]);
  await line.idle();
  assert.equal(line.waiting, 0);
});

test("a job that fails does not stop those after it", async () => {
  const line = queue();
  const bad = line.push(() => Promise.reject(new Error("no")));
  const good = line.push(() => later("yes"));
  await assert.rejects(bad, /no/);
  assert.equal(await good, "yes");
});

test("what is held is sent once, when flushed, and told where the page goes away", () => {
  const line = queue();
  const sent = [];
  line.defer((leaving) => sent.push(leaving));
  const release = line.defer(() => sent.push("released"));
  release();
  line.flush();
  line.flush();
  assert.deepEqual(sent, [false]);
  line.defer((leaving) => sent.push(leaving));
  line.flush(true);
  assert.deepEqual(sent, [false, true]);
});

test("one request in flight, and the latest wins", async () => {
  const asked = [];
  const ask = latest(async (what, overtaken) => {
    asked.push(what);
    await later();
    if (what === "a") assert.equal(overtaken(), true);
  });
  const first = ask("a");
  ask("b");
  ask("c");
  await first;
  assert.deepEqual(asked, ["a", "c"]);
});

test("two requests in flight, and what a newer answer has overtaken says so", async () => {
  const answers = {};
  const shown = [];
  let asking = 0;
  const ask = latest(async (what, _, outdated) => {
    assert.ok(++asking <= 2);
    await new Promise((done) => {
      answers[what] = done;
    });
    asking--;
    if (!outdated()) shown.push(what);
  }, 2);
  const all = ["a", "b", "c", "d"].map((what) => ask(what));
  // c is overtaken before it is sent
  assert.deepEqual(Object.keys(answers), ["a", "b"]);
  answers.b();
  await later();
  assert.deepEqual(Object.keys(answers), ["a", "b", "d"]);
  answers.a();
  answers.d();
  await Promise.all(all);
  assert.deepEqual(shown, ["b", "d"]);
});
