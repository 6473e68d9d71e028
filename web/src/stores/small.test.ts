import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { box, sheet } from '@dusky-mason/core/shapes';
import { surveyCounts } from '@dusky-mason/core/survey';
import { flipMesh, joinMeshes, meshFromFaces, SaidError } from '@dusky-mason/core/mesh';
import { solidState } from '../words/counts.ts';
import { fileName } from './files.ts';
import { useNotices } from './notices.ts';

describe('notices', () => {
  beforeEach(() => {
    setActivePinia(createPinia());
    vi.useFakeTimers();
  });

  it('notes go by themselves, problems stay until they are put away', () => {
    const notices = useNotices();
    notices.say('said', 'Written.');
    notices.fail(new SaidError('No room.'));
    expect(notices.list.map((n) => n.text)).toEqual(['Written.', 'No room.']);
    vi.advanceTimersByTime(10_000);
    expect(notices.list.map((n) => n.text)).toEqual(['No room.']);
    notices.close(notices.list[0]!.id);
    expect(notices.list).toEqual([]);
  });

  it('no library’s or engine’s own text is told', () => {
    const notices = useNotices();
    for (const e of [new Error('[{"code":"invalid_type"}]'), new TypeError('Cannot read properties of null'), 'odd'])
      notices.fail(e);
    expect(notices.list.map((n) => n.text).join()).not.toMatch(/invalid_type|Cannot read|odd/);
    notices.fail(new RangeError('Maximum call stack size exceeded'));
    expect(notices.list.at(-1)!.text).toMatch(/linked in a row/);
  });

  it('the same is said once, and no more than a few stand at a time', () => {
    const notices = useNotices();
    for (let i = 0; i < 9; i++) notices.fail(new SaidError(`problem ${i}`));
    notices.fail(new SaidError('problem 8'));
    expect(notices.list.map((n) => n.text)).toEqual(['problem 5', 'problem 6', 'problem 7', 'problem 8']);
  });
});

describe('the state of a part in words', () => {
  it.each([
    ['Closed solid', box(1, 1, 1), true],
    ['Open, 4 edges', sheet(2, 1), false],
    ['Nothing left', meshFromFaces([], []), false],
    [
      'Faces flipped',
      meshFromFaces(box(1, 1, 1).positions, [
        [0, 1, 2],
        [0, 1, 3],
      ]),
      false,
    ],
    [
      'Not manifold',
      meshFromFaces(box(1, 1, 1).positions, [
        [0, 1, 2],
        [1, 0, 3],
        [0, 1, 4],
      ]),
      false,
    ],
    ['Closed solid', joinMeshes([box(9, 9, 9), flipMesh(box(1, 1, 1))]), true],
  ])('%s', (words, mesh, sound) => {
    expect(solidState(surveyCounts(mesh))).toMatchObject({ words, sound });
  });

  it('is nothing before it is measured', () => expect(solidState(null).sound).toBe(false));
});

it('file names are plain whatever the part is called', () => {
  expect(['Pump-house wall', '  Öl/Kanne: № 3 ', '...', 'a'].map(fileName)).toEqual([
    'pump-house-wall',
    'o-l-kanne-no-3',
    'part',
    'a',
  ]);
});
