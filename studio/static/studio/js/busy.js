// What the server is too busy for is sent again, until it is done or a minute has passed.
const PATIENCE = 60_000;
const wait = (ms) => new Promise((done) => setTimeout(done, ms));

// `send` gives a response; `say` is told before each further try.
export async function trying(send, say = () => {}) {
  const since = Date.now();
  for (;;) {
    const response = await send();
    if (response.status !== 503 || Date.now() - since > PATIENCE) return response;
    say("busy, trying again");
    await wait(1000);
  }
}
