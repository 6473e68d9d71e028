import { mount } from '@vue/test-utils';
import { describe, expect, it } from 'vitest';
import { defineComponent, h } from 'vue';
import {
  commandFor,
  findCommands,
  giveKeys,
  keyName,
  keyProblem,
  keysOf,
  useCommands,
  type Command,
} from './commands.ts';

// @vitest-environment happy-dom

const knows = (list: Command[]) => mount(defineComponent({ setup: () => (useCommands(list), () => h('div')) }));
const none = () => undefined;

describe('commands', () => {
  it('are found by any of their words, those that can be done first, as long as their view is there', () => {
    const view = knows([
      { id: 'a', title: 'Delete the part', also: 'remove', when: () => false, run: none },
      { id: 'b', title: 'Remove a cutter', run: none },
      { id: 'c', title: 'Place a cutter', keys: 'C', run: none },
    ]);
    expect(findCommands('rem').map((c) => c.id)).toEqual(['b', 'a']);
    expect(findCommands('cutter place').map((c) => c.id)).toEqual(['c']);
    expect(findCommands('nothing like it')).toEqual([]);
    view.unmount();
    expect(findCommands('')).toEqual([]);
  });

  it('are asked for by their keys, each of them, when they can be done', () => {
    let can = true;
    const view = knows([{ id: 'redo', title: 'Redo', keys: 'Ctrl+Shift+Z, Ctrl+Y', when: () => can, run: none }]);
    const press = (key: string, more: KeyboardEventInit = {}) =>
      commandFor(new KeyboardEvent('keydown', { key, ...more }))?.id;
    expect(press('z', { ctrlKey: true, shiftKey: true })).toBe('redo');
    expect(press('y', { metaKey: true })).toBe('redo');
    expect(press('z', { ctrlKey: true })).toBe(undefined);
    can = false;
    expect(press('y', { ctrlKey: true })).toBe(undefined);
    view.unmount();
  });

  it('may be given other keys, and none that are taken', () => {
    const place: Command = { id: 'place', title: 'Place a cutter', keys: 'C', run: none };
    const view = knows([place, { id: 'draw', title: 'Draw on the part', keys: 'D', run: none }]);
    const press = (key: string, more: KeyboardEventInit = {}) =>
      commandFor(new KeyboardEvent('keydown', { key, ...more }))?.id;
    expect(keyProblem('place', 'D')).toContain('already does “Draw on the part”');
    expect(keyProblem('place', 'C')).toBeNull();
    expect(keyProblem('place', 'Q')).toBeNull();
    for (const taken of ['Ctrl+T', 'Ctrl+W', 'F5', 'Tab', 'Escape', 'Enter', 'Alt+ArrowLeft'])
      expect(keyProblem('place', taken)).toContain('own');
    giveKeys({ place: 'Q', draw: '' });
    expect([keysOf(place), press('q'), press('c'), press('d')]).toEqual(['Q', 'place', undefined, undefined]);
    // The key that was taken away is free.
    expect(keyProblem('place', 'D')).toBeNull();
    giveKeys({});
    expect([press('c'), press('d')]).toEqual(['place', 'draw']);
    view.unmount();
  });

  it('keys are written as they are pressed', () => {
    const name = (key: string, more: KeyboardEventInit = {}) => keyName(new KeyboardEvent('keydown', { key, ...more }));
    expect([name('c'), name('z', { ctrlKey: true, shiftKey: true }), name('?', { shiftKey: true })]).toEqual([
      'C',
      'Ctrl+Shift+Z',
      '?',
    ]);
    expect([name('ArrowUp', { altKey: true }), name('ArrowUp', { shiftKey: true }), name('F2')]).toEqual([
      'Alt+ArrowUp',
      'Shift+ArrowUp',
      'F2',
    ]);
  });
});
