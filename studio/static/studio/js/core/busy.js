// Requests that find the server busy are sent again, for up to a minute.
const PATIENCE = 60_000;
const wait = (ms) => new Promise((done) => setTimeout(done, ms));

// Only a busy server says when to retry; other errors are reported at once.
const isBusy = (response) => response.busy ?? (response.status === 503 && response.headers.has("Retry-After"));

/**
 * Send until it succeeds, or a minute has passed.
 *
 * @template T
 * @param {() => Promise<T>} send returns a response, or an object that says whether it is `busy`
 * @param {(words: string) => void} [say] is called before each retry
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
