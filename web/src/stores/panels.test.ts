import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it, vi } from 'vitest';

// @vitest-environment happy-dom

vi.mock('localforage', () => import('../testing/memoryForage.ts'));

const { usePanels } = await import('./panels.ts');
const page = (width: number): void => {
  const { happyDOM } = window as unknown as {
    happyDOM: { setViewport(size: { width: number; height: number }): void };
  };
  happyDOM.setViewport({ width, height: 800 });
  window.dispatchEvent(new Event('resize'));
};

beforeEach(() => {
  page(1280);
  setActivePinia(createPinia());
});

it('a panel is as wide as set between its bounds, folds below half of its least, and unfolds as usual', () => {
  const panels = usePanels();
  panels.widen('wall', 300.4);
  expect(panels.shown.wall).toBe(300);
  panels.widen('wall', 9000);
  expect(panels.widths.wall).toBe(420);
  panels.widen('wall', 120);
  expect(panels.widths.wall).toBe(180);
  panels.widen('wall', 80);
  expect([panels.widths.wall, panels.isOpen('wall'), panels.isOpen('card')]).toEqual([0, false, true]);
  panels.turn('wall');
  expect([panels.widths.wall, panels.isOpen('wall')]).toEqual([268, true]);
});

it('on a page that is not wide they give way in proportion; on a narrow one they lie over the view, one at a time', () => {
  const panels = usePanels();
  page(900);
  expect(panels.shown.wall).toBeCloseTo(268 * 0.75, 9);
  expect(panels.isOpen('wall')).toBe(true);
  page(640);
  expect([panels.isOpen('wall'), panels.isOpen('card')]).toEqual([false, false]);
  panels.turn('wall');
  panels.turn('card');
  expect([panels.isOpen('wall'), panels.isOpen('card')]).toEqual([false, true]);
  panels.turn('card');
  expect(panels.over).toBeNull();
  page(1280);
  expect(panels.isOpen('wall')).toBe(true);
});
