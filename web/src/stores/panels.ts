import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import { usePreferences, type PanelName } from './preferences.ts';

/** A panel is as wide as this at least, unless it is folded, and at most; and as it is unfolded, pixels. */
export const PANEL_WIDTHS: Record<PanelName, { least: number; most: number; usual: number }> = {
  wall: { least: 180, most: 420, usual: 268 },
  card: { least: 240, most: 480, usual: 292 },
};
/** On a page narrower than this the panels lie over the view, one at a time. */
const NARROW = '(max-width: 820px)';

/** From this width of the page on the panels are as wide as set, pixels. */
const WIDE = 1200;

/** Which of the panels over every view are open, and how those beside the view stand. */
export const usePanels = defineStore('panels', () => {
  const prefs = usePreferences();
  const narrow = ref(false);
  /** How much narrower than set the panels are on a page that is not wide. */
  const share = ref(1);
  const media = matchMedia(NARROW);
  const look = (): void => {
    narrow.value = media.matches;
    share.value = Math.min(1, window.innerWidth / WIDE);
  };
  window.addEventListener('resize', look);
  look();

  /** The panel that lies over the view of a narrow page. */
  const over = ref<PanelName | null>(null);
  const isOpen = (name: PanelName): boolean => (narrow.value ? over.value === name : prefs.now.widths[name] > 0);
  const widths = computed(() => prefs.now.widths);
  const shown = computed(() => ({ wall: widths.value.wall * share.value, card: widths.value.card * share.value }));

  /** Sets how wide a panel is: narrower than its least by half, it folds. */
  function widen(name: PanelName, width: number): void {
    const { least, most } = PANEL_WIDTHS[name];
    prefs.now.widths[name] = width < least / 2 ? 0 : Math.round(Math.max(least, Math.min(most, width)));
  }
  function turn(name: PanelName): void {
    if (narrow.value) over.value = over.value === name ? null : name;
    else prefs.now.widths[name] = prefs.now.widths[name] ? 0 : PANEL_WIDTHS[name].usual;
  }

  return { rack: ref(false), finder: ref(false), narrow, share, over, isOpen, widths, shown, widen, turn };
});
