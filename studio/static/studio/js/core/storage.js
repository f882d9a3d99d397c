// A person's choices in this browser. A browser that stores nothing starts afresh each time.
export function recall(key) {
  try {
    return JSON.parse(localStorage.getItem(key)) || {};
  } catch {
    return {};
  }
}

export function record(key, value) {
  try {
    localStorage.setItem(key, JSON.stringify(value));
  } catch {
    // the default, next time
  }
}
