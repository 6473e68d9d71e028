import { describe, expect, it } from 'vitest';
import { History } from './history.ts';

describe('history', () => {
  it('takes back and does again, and forgets what was undone once something new is done', () => {
    const h = new History<{ n: number }>();
    expect(h.record('one', { n: 0 }, { n: 1 })?.there).toEqual({ set: { n: 1 } });
    h.record('two', { n: 1 }, { n: 2 });
    expect([h.undoTitle, h.redoTitle]).toEqual(['two', undefined]);
    expect(h.undo({ n: 2 })).toEqual({ title: 'two', state: { n: 1 } });
    expect(h.redoTitle).toBe('two');
    expect(h.redo({ n: 1 })?.state).toEqual({ n: 2 });
    h.undo({ n: 2 });
    h.record('three', { n: 1 }, { n: 3 });
    expect([h.undoTitle, h.redo({ n: 3 })]).toEqual(['three', undefined]);
    expect(h.undo({ n: 3 })?.state).toEqual({ n: 1 });
    expect(h.undo({ n: 1 })?.state).toEqual({ n: 0 });
    expect(h.undo({ n: 0 })).toBe(undefined);
  });

  it('records nothing where nothing changed', () => {
    const h = new History<{ n: number[] }>();
    expect(h.record('same', { n: [1] }, { n: [1] })).toBe(null);
    expect(h.undoTitle).toBe(undefined);
  });

  it('keeps a bounded number of steps, the newest ones', () => {
    const h = new History<{ n: number }>();
    for (let i = 0; i < 2000; i++) h.record(`${i}`, { n: i }, { n: i + 1 });
    let state = { n: 2000 };
    let n = 0;
    for (let step = h.undo(state); step; step = h.undo(state), n++) state = step.state;
    expect([n, state.n]).toEqual([500, 1500]);
  });
});
