// Snapping's choice: the nearest of Python's candidates within reach. Pure, tested by itself.

export const AXES = { x: ["x0", "x1", "y0", "y1"], y: ["y0", "y1", "x0", "x1"] };

// Where a box snaps along an axis: { by, at, word, gap }, or null. `edges` are the box's edges that may move,
// `without` the ids that move themselves; `step` is that of a plain grid, or 0.
export function nearestLine(data, axis, box, { without, edges, reach, step }) {
  const [low, high, from, to] = AXES[axis];
  const spots = { low: box[low], mid: (box[low] + box[high]) / 2, high: box[high] };
  let best = null;
  const tryAt = (at, edge, word, gap) => {
    const by = at - spots[edge];
    if (Math.abs(by) <= reach && (!best || Math.abs(by) < Math.abs(best.by) - 1e-9)) best = { by, at, word, gap };
  };
  for (const [at, owner, word] of data?.[axis] || []) {
    if (owner && without.includes(owner)) continue;
    for (const edge of edges) tryAt(at, edge, word);
  }
  if (step > 0) {
    for (const edge of edges) if (edge !== "mid") tryAt(Math.round(spots[edge] / step) * step, edge, "grid");
  }
  if (edges.length === 3) {
    for (const [edge, at, gap, owners, [a, b]] of data?.gaps?.[axis] || []) {
      if (owners.some((o) => without.includes(o)) || box[from] >= b || box[to] <= a) continue;
      tryAt(at, edge, edge === "mid" ? "same gaps" : "same gap", gap);
    }
  }
  return best;
}

// The node nearest to a point within reach, [x, y], or null.
export function nearestNode(nodes, p, { without, reach }) {
  let best = null;
  for (const [x, y, owner] of nodes || []) {
    if (without.includes(owner)) continue;
    const away = Math.hypot(x - p.x, y - p.y);
    if (away <= reach && (!best || away < best.away)) best = { x, y, away };
  }
  return best && [best.x, best.y];
}
