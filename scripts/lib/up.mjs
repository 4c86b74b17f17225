// Waits until a server answers. Ends with an error where its process ends before, or where it takes longer than anybody waits.
const PATIENCE_MS = 300_000;
const EVERY_MS = 50;

export async function untilUp(url, child) {
  const until = Date.now() + PATIENCE_MS;
  for (;;) {
    if (child.exitCode !== null) throw new Error(`Terrace ended with ${child.exitCode} before it was up`);
    const up = await fetch(`${url}/api/health`).then(
      (answer) => answer.ok,
      () => false,
    );
    if (up) return;
    if (Date.now() > until) throw new Error(`Terrace is not up at ${url}`);
    await new Promise((done) => setTimeout(done, EVERY_MS));
  }
}

/** The cookie that an answer to signing in gives, as it is sent back; empty where there is none. */
export function sessionOf(answer) {
  const found = answer.headers.getSetCookie().find((each) => each.startsWith('terrace.session='));
  return found?.split(';')[0] ?? '';
}
