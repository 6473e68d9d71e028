import { describe, expect, it, vi } from 'vitest';
import { EngineClient, EngineError, EngineLost } from './client.ts';
import { Latest } from './latest.ts';
import type { FromWorker, ToWorker } from './protocol.ts';

/** A worker whose answers the test gives by hand. */
class HandWorker {
  onmessage: ((e: { data: FromWorker }) => void) | null = null;
  onerror: ((e: { preventDefault(): void }) => void) | null = null;
  asked: ToWorker[] = [];
  ended = false;
  given: unknown[][] = [];
  postMessage(m: ToWorker, transfer: unknown[] = []) {
    this.asked.push(m);
    this.given.push(transfer);
  }
  terminate() {
    this.ended = true;
  }
  say(m: FromWorker) {
    this.onmessage?.({ data: m });
  }
}

function setUp(limit = 1000) {
  vi.stubGlobal('self', globalThis);
  const hired: HandWorker[] = [];
  const client = new EngineClient(
    () => {
      const w = new HandWorker();
      hired.push(w);
      return w as unknown as Worker;
    },
    () => limit,
  );
  return { client, hired };
}

describe('the engine client', () => {
  it('gives each answer to the one who asked', async () => {
    const { client, hired } = setUp();
    const a = client.ask({ kind: 'store', hash: 'a', bytes: new Uint8Array(1) });
    const b = client.ask({ kind: 'store', hash: 'b', bytes: new Uint8Array(1) });
    const [first, second] = hired[0]!.asked;
    hired[0]!.say({ id: second!.id, error: { code: 'bad-file', message: 'No.' } });
    hired[0]!.say({ id: first!.id, answer: { kind: 'store' } });
    expect(await a).toEqual({ kind: 'store' });
    await expect(b).rejects.toBeInstanceOf(EngineError);
  });

  it('replaces a worker that crashes, naming the course, and stores the meshes again', async () => {
    const { client, hired } = setUp();
    const stored = client.ask({ kind: 'store', hash: 'm', bytes: new Uint8Array(3) });
    hired[0]!.say({ id: hired[0]!.asked[0]!.id, answer: { kind: 'store' } });
    await stored;
    const lost = client.ask({ kind: 'shape', shape: {} as never });
    hired[0]!.say({ id: hired[0]!.asked[1]!.id, begun: { course: 7, name: 'Bore' } });
    hired[0]!.onerror?.({ preventDefault: () => undefined });
    await expect(lost).rejects.toMatchObject({ why: 'crashed', course: { course: 7, name: 'Bore' } });
    expect(hired[0]!.ended).toBe(true);
    expect(hired[1]!.asked.map((m) => m.ask)).toMatchObject([{ kind: 'store', hash: 'm' }]);
  });

  it('a file to be read is handed over, not copied; meshes that a worker read itself are read by the next one', () => {
    const { client, hired } = setUp();
    const bytes = new Uint8Array(9);
    void client.ask({ kind: 'import', name: 'a.stl', bytes, cancel: null }).catch(() => undefined);
    void client.ask({ kind: 'store', hash: 'm', bytes }).catch(() => undefined);
    void client.ask({ kind: 'load', hash: 'k' }).catch(() => undefined);
    expect(hired[0]!.given).toEqual([[bytes.buffer], [], []]);
    client.lose('hung');
    expect(hired[1]!.asked.map((m) => m.ask)).toMatchObject([
      { kind: 'store', hash: 'm' },
      { kind: 'load', hash: 'k' },
    ]);
  });

  it('does not give up on long work that tells how it goes on, nor on what waits for it', async () => {
    vi.useFakeTimers();
    const { client, hired } = setUp(1000);
    const long = client.ask({ kind: 'shape', shape: {} as never });
    const waits = client.ask({ kind: 'store', hash: 'a', bytes: new Uint8Array(1) });
    const [first, second] = hired[0]!.asked;
    for (let k = 0; k < 5; k++) {
      vi.advanceTimersByTime(800);
      hired[0]!.say({ id: first!.id, progress: { fraction: k / 5, stage: 'Healing' } });
    }
    expect(hired).toHaveLength(1);
    hired[0]!.say({ id: second!.id, answer: { kind: 'store' } });
    expect(await waits).toEqual({ kind: 'store' });
    vi.advanceTimersByTime(1100);
    await expect(long).rejects.toMatchObject({ why: 'hung' });
    vi.useRealTimers();
  });

  it('gives up on a worker that does not answer in time', async () => {
    vi.useFakeTimers();
    const { client, hired } = setUp(50);
    const hung = client.ask({ kind: 'shape', shape: {} as never });
    const seen = expect(hung).rejects.toBeInstanceOf(EngineLost);
    vi.advanceTimersByTime(60);
    await seen;
    expect(hired).toHaveLength(2);
    vi.useRealTimers();
  });
});

it('the latest request wins: those in between are never run', async () => {
  const ran: number[] = [];
  let stops = 0;
  let free: () => void = () => undefined;
  const latest = new Latest<number>(
    (n) => {
      ran.push(n);
      return new Promise((done) => (free = done));
    },
    () => stops++,
  );
  for (const n of [1, 2, 3, 4]) latest.request(n);
  expect(ran).toEqual([1]);
  free();
  await new Promise((r) => setTimeout(r));
  expect(ran).toEqual([1, 4]);
  expect(stops).toBe(3);
});
