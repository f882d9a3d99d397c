// Jobs one after another. Pending ones belong to the item they began on, and are sent before anything else.

export function queue() {
  /** @type {Promise<any>} */
  let tail = Promise.resolve();
  let waiting = 0;
  const pending = new Set();
  return {
    // The number of unfinished jobs.
    get waiting() {
      return waiting;
    },
    // Resolves when everything pushed so far is done.
    idle: () => tail,
    // Run `job` after all that were pushed before it; resolves to its result, or throws its error.
    push(job) {
      waiting++;
      const result = tail.then(job);
      tail = result.then(
        () => waiting--,
        () => waiting--,
      );
      return result;
    },
    // A job that waits a moment before it is sent, such as nudges that become one step.
    defer(send) {
      pending.add(send);
      return () => pending.delete(send);
    },
    // Send whatever waits now; `leaving` means that the page is closing.
    flush(leaving = false) {
      const all = [...pending];
      pending.clear();
      for (const send of all) send(leaving);
    },
  };
}

// Up to `most` requests at a time, the latest wins: `ask` is called with the newest value and two questions, whether a
// newer value waits, and whether a newer one was answered.
export function latest(ask, most = 1) {
  let wanted = null;
  let asking = 0;
  let asked = 0;
  let answered = 0;
  return async (what) => {
    wanted = { what };
    if (asking === most) return;
    asking++;
    try {
      while (wanted) {
        const { what: now } = wanted;
        wanted = null;
        const number = ++asked;
        await ask(
          now,
          () => wanted !== null,
          () => number < answered,
        );
        answered = Math.max(answered, number);
      }
    } finally {
      asking--;
    }
  };
}
