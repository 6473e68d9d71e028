import { describe, expect, it } from 'vitest';
import { History } from './history.ts';

describe('history', () => {
  it('takes back and does again, and forgets what was undone once something new is done', () => {
    const h = new History<number>();
    h.record('one', 0, 1);
    h.record('two', 1, 2);
    expect([h.undoTitle, h.redoTitle]).toEqual(['two', undefined]);
    expect(h.undo()).toEqual({ title: 'two', before: 1, after: 2 });
    expect(h.redoTitle).toBe('two');
    expect(h.redo()?.after).toBe(2);
    h.undo();
    h.record('three', 1, 3);
    expect([h.undoTitle, h.redo()]).toEqual(['three', undefined]);
    h.undo();
    h.undo();
    expect(h.undo()).toBe(undefined);
  });

  it('keeps a bounded number of steps', () => {
    const h = new History<number>();
    for (let i = 0; i < 2000; i++) h.record(`${i}`, i, i + 1);
    let n = 0;
    while (h.undo()) n++;
    expect(n).toBe(500);
  });
});
