import { defineStore } from 'pinia';
import { ref, watch } from 'vue';
import { giveKeys } from '../words/commands.ts';
import { setTimeLimit } from '../engine/engine.ts';
import { keepSetting, readSetting } from './storage.ts';

export interface Preferences {
  theme: 'system' | 'light' | 'night';
  /** Seconds that one evaluation may take before it is given up. */
  limit: number;
  /** Step of handles while Shift is held, and of the arrow keys, mm. */
  step: number;
  /** Keys given to commands by hand, by command. */
  keys: Record<string, string>;
  /** Commands that have a button on the strip of the stage. */
  pinned: string[];
  pointer: PointerHabits;
  /**
   * Whether edges in the view are smoothed: where a graphics card draws, always, or never. Without a card it takes half
   * of the time of a picture.
   */
  smooth: 'card' | 'always' | 'never';
  /** Whether the first walk was taken, or left. */
  walked: boolean;
  /** How wide the panels beside the view are, pixels; 0 is folded. */
  widths: Record<PanelName, number>;
}

/** The panels beside the view. */
export type PanelName = 'wall' | 'card';

/**
 * What dragging with the left button or one finger does to the view (the right button, or two fingers, the other), and
 * rolling the wheel forward.
 */
export interface PointerHabits {
  left: 'turn' | 'shift';
  wheel: 'towards' | 'away';
  touch: 'turn' | 'shift';
}

const DEFAULTS: Preferences = {
  theme: 'system',
  limit: 60,
  step: 1,
  keys: {},
  pinned: [],
  pointer: { left: 'turn', wheel: 'towards', touch: 'turn' },
  smooth: 'card',
  walked: false,
  widths: { wall: 268, card: 292 },
};

/** A command by the name that it has now: strokes were called mends once. */
const commandNow = (id: string): string => id.replace(/^mend-/, 'stroke-');
const renamed = (keys: Record<string, string>): Record<string, string> =>
  Object.fromEntries(Object.entries(keys).map(([id, key]) => [commandNow(id), key]));

export const usePreferences = defineStore('preferences', () => {
  const now = ref<Preferences>({ ...DEFAULTS });
  const night = ref(false);
  const dark = matchMedia('(prefers-color-scheme: dark)');

  function apply(): void {
    night.value = now.value.theme === 'night' || (now.value.theme === 'system' && dark.matches);
    document.documentElement.classList.toggle('night', night.value);
    setTimeLimit(now.value.limit * 1000);
    giveKeys(now.value.keys);
  }

  async function load(): Promise<void> {
    const kept = (await readSetting<Partial<Preferences>>('preferences')) ?? {};
    now.value = { ...DEFAULTS, ...kept, keys: renamed(kept.keys ?? {}), pinned: (kept.pinned ?? []).map(commandNow) };
    apply();
  }

  watch(
    now,
    (p) => {
      apply();
      void keepSetting('preferences', JSON.parse(JSON.stringify(p)));
    },
    { deep: true },
  );
  dark.addEventListener('change', apply);
  apply();
  return { now, night, load };
});
