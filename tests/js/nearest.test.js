import assert from "node:assert/strict";
import { test } from "node:test";
import { nearestLine, nearestNode } from "../../studio/static/studio/js/core/nearest.js";

const box = { x0: 97, x1: 197, y0: 0, y1: 50 };
const all = ["low", "mid", "high"];
const how = { without: [], edges: all, reach: 6, step: 0 };

test("the nearest of the places within reach", () => {
  const data = {
    x: [
      [100, "", "guide"],
      [200, "i1", "edge"],
      [96, "i2", "edge"],
    ],
    gaps: { x: [] },
  };
  // its left edge is 1 from 96, its right edge 3 from 200
  assert.deepEqual(nearestLine(data, "x", box, how), { by: -1, at: 96, word: "edge", gap: undefined });
  // what moves is never its own target
  assert.equal(nearestLine(data, "x", box, { ...how, without: ["i2"] }).at, 100);
  assert.equal(nearestLine(data, "x", box, { ...how, reach: 0.5 }), null);
  // only the edges that move
  assert.equal(nearestLine(data, "x", box, { ...how, edges: ["high"] }).at, 200);
});

test("a plain grid holds edges, not middles", () => {
  const found = nearestLine({}, "x", box, { ...how, step: 50 });
  assert.deepEqual([found.at, found.word], [100, "grid"]);
  assert.equal(nearestLine({}, "x", { x0: 110, x1: 190 }, { ...how, edges: ["mid"], step: 50 }), null);
});

test("gaps that repeat count only beside what leaves them", () => {
  const gaps = { x: [["low", 100, 20, ["i1", "i2"], [0, 40]]] };
  assert.equal(nearestLine({ gaps }, "x", box, how).word, "same gap");
  assert.equal(nearestLine({ gaps }, "x", { ...box, y0: 60, y1: 90 }, how), null);
  assert.equal(nearestLine({ gaps }, "x", box, { ...how, without: ["i2"] }), null);
});

test("the nearest node within reach, none of its own", () => {
  const nodes = [
    [10, 10, "i1"],
    [14, 10, "i2"],
    [90, 90, "i3"],
  ];
  assert.deepEqual(nearestNode(nodes, { x: 11, y: 10 }, { without: [], reach: 6 }), [10, 10]);
  assert.deepEqual(nearestNode(nodes, { x: 11, y: 10 }, { without: ["i1"], reach: 6 }), [14, 10]);
  assert.equal(nearestNode(nodes, { x: 50, y: 50 }, { without: [], reach: 6 }), null);
});
