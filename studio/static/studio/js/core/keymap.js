// Which key means what: pure, so that it can be tested on its own.

// The name of the key of an event, as the table has it: "u", "shift+v", "ctrl+z", "arrowleft".
export function nameOf(event) {
  const key = event.key.toLowerCase();
  const ctrl = event.ctrlKey || event.metaKey ? "ctrl+" : "";
  // a sign that needs Shift on some keyboards is itself, and Shift is not said twice
  const shift = event.shiftKey && (key.length > 1 || /[a-z]/.test(key)) ? "shift+" : "";
  return `${ctrl}${shift}${key}`;
}

// The table's rows as a look-up: work at hand -> key -> [name, args].
export function keyMap(rows) {
  const map = new Map();
  for (const [keys, acts, when] of rows) {
    if (!map.has(when)) map.set(when, new Map());
    for (const [k, key] of keys.entries()) map.get(when).set(key, acts[k]);
  }
  return map;
}

// What a key does, with the works at hand from the nearest to the most general; null where it means nothing.
export function meaning(map, key, works) {
  for (const work of works) {
    // what steers the work at hand does so with Shift held too: that keeps proportions
    const found = map.get(work)?.get(key) || map.get(work)?.get(key.replace("shift+", ""));
    if (found) return found;
  }
  return map.get("")?.get(key) || null;
}
