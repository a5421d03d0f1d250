const STEP_MS = 5;
/** No machine is so slow. */
const MOST_MS = 60_000;

/** Waits until it is so, which takes as long as the machine needs. @throws Error with the check itself where it never is */
export async function until(check: () => boolean | Promise<boolean>): Promise<void> {
  const endMs = performance.now() + MOST_MS;
  while (!(await check())) {
    if (performance.now() > endMs) throw new Error(`never came: ${check.toString()}`);
    await new Promise((done) => setTimeout(done, STEP_MS));
  }
}
