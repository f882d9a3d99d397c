// What the server is too busy for is sent again, until it is done or a minute has passed.
const PATIENCE = 60_000;
const wait = (ms) => new Promise((done) => setTimeout(done, ms));

// Only what is busy says when to come again; what is broken is told at once.
const isBusy = (response) => response.busy ?? (response.status === 503 && response.headers.has("Retry-After"));

/**
 * Send until it is done, or a minute has passed.
 *
 * @template T
 * @param {() => Promise<T>} send gives a response, or what tells whether it is `busy`
 * @param {(words: string) => void} [say] is told before each further try
 * @returns {Promise<T>}
 */
export async function trying(send, say = () => {}) {
  const since = Date.now();
  for (;;) {
    const response = await send();
    if (!isBusy(response) || Date.now() - since > PATIENCE) return response;
    say("Server busy, retrying…");
    await wait(1000);
  }
}
