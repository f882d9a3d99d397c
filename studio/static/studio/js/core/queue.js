// Jobs one after another. What is pending belongs to what it began on, and is sent before anything else.

export function queue() {
  /** @type {Promise<any>} */
  let tail = Promise.resolve();
  let waiting = 0;
  const pending = new Set();
  return {
    // How many jobs are not done yet.
    get waiting() {
      return waiting;
    },
    // Resolves when everything that was pushed so far is done.
    idle: () => tail,
    // Do `job` after all that were pushed before it; resolves to what it gives, or throws what it throws.
    push(job) {
      waiting++;
      const result = tail.then(job);
      tail = result.then(
        () => waiting--,
        () => waiting--,
      );
      return result;
    },
    // Something that waits a moment before it is sent, such as nudges that become one step.
    defer(send) {
      pending.add(send);
      return () => pending.delete(send);
    },
    // Send whatever waits now; `leaving` says that the page goes away.
    flush(leaving = false) {
      const all = [...pending];
      pending.clear();
      for (const send of all) send(leaving);
    },
  };
}

// One request in flight, the latest wins: `ask` is called with the newest of what was wanted.
export function latest(ask) {
  let wanted = null;
  let asking = false;
  return async (what) => {
    wanted = { what };
    if (asking) return;
    asking = true;
    try {
      while (wanted) {
        const { what: now } = wanted;
        wanted = null;
        await ask(now, () => wanted !== null);
      }
    } finally {
      asking = false;
    }
  };
}
