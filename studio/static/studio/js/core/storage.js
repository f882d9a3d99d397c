// What this browser remembers of a person's choices. One that keeps nothing begins anew each time.
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
    // as it comes, the next time
  }
}
