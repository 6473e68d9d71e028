import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it, vi } from 'vitest';

vi.mock('localforage', () => import('../testing/memoryForage.ts'));
vi.mock('./journal.ts', async () => (await import('../testing/memoryForage.ts')).memoryJournal());
vi.mock('../engine/engine.ts', () => ({ setTimeLimit: () => undefined }));
vi.stubGlobal('matchMedia', () => ({ matches: false, addEventListener: () => undefined }));
vi.stubGlobal('document', { documentElement: { classList: { toggle: () => undefined } } });

const { usePreferences } = await import('./preferences.ts');
const { keepSetting } = await import('./storage.ts');

beforeEach(() => setActivePinia(createPinia()));

it('keys and pins given to strokes when they were called mends go on', async () => {
  await keepSetting('preferences', { keys: { 'mend-weld': 'J', undo: 'U' }, pinned: ['mend-fill', 'fit'] });
  const prefs = usePreferences();
  await prefs.load();
  expect(prefs.now.keys).toEqual({ 'stroke-weld': 'J', undo: 'U' });
  expect(prefs.now.pinned).toEqual(['stroke-fill', 'fit']);
  expect(prefs.now.theme).toBe('system');
});
