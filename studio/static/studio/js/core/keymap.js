// What each key does: pure functions, tested by themselves.

// The name of an event's key, as in the table: "u", "shift+v", "ctrl+z", "arrowleft".
export function nameOf(event) {
  const key = event.key.toLowerCase();
  const ctrl = event.ctrlKey || event.metaKey ? "ctrl+" : "";
  // a character that needs Shift on some keyboards is named by itself, without Shift
  const shift = event.shiftKey && (key.length > 1 || /[a-z]/.test(key)) ? "shift+" : "";
  return `${ctrl}${shift}${key}`;
}

// The table's rows as a look-up: mode -> key -> [name, args].
export function keyMap(rows) {
  const map = new Map();
  for (const [keys, acts, when] of rows) {
    if (!map.has(when)) map.set(when, new Map());
    for (const [k, key] of keys.entries()) map.get(when).set(key, acts[k]);
  }
  return map;
}

// What a key does, given the modes from the nearest to the most general; null if nothing.
export function meaning(map, key, works) {
  for (const work of works) {
    // keys that steer a mode do so with Shift held too: Shift keeps proportions
    const found = map.get(work)?.get(key) || map.get(work)?.get(key.replace("shift+", ""));
    if (found) return found;
  }
  return map.get("")?.get(key) || null;
}
