/**
 * Claims a thing for this tab. `held` says whether it was free; if it was not, `later` is called once another tab lets
 * go of it and it is held here.
 * `release` lets go of it, or of the wait for it.
 */
export async function claim(name: string, later: () => void): Promise<{ held: boolean; release: () => void }> {
  // Without locks no tab knows of another one: each may write.
  if (!navigator.locks) return { held: true, release: () => undefined };
  const waiting = new AbortController();
  let letGo: () => void = () => undefined;
  const hold = () => new Promise<void>((done) => (letGo = done));
  const held = await new Promise<boolean>((told) => {
    void navigator.locks.request(name, { ifAvailable: true }, (lock) => {
      told(lock !== null);
      return lock ? hold() : undefined;
    });
  });
  if (!held)
    void navigator.locks
      .request(name, { signal: waiting.signal }, () => {
        const holding = hold();
        later();
        return holding;
      })
      .catch(() => undefined);
  return {
    held,
    release: () => {
      waiting.abort();
      letGo();
    },
  };
}
