import { cutterName, setCutter } from '@dusky-mason/core/courses';
import { isTyping } from '../words/commands.ts';
import { NUDGES, nudged, ORBITS, type Way } from './nudges.ts';
import type { View, ViewStores } from './view.ts';

/** What begins a typed value: it goes to the field of the strip, with what follows. */
const BEGINS_TYPING = /^[\d.,+\-−Ø(]$/;
/** With Shift, a key goes so many steps. */
const FAR_STEPS = 10;
/** A zoom by key, as a factor of the distance. */
const ZOOM = 1.2;

/** Keys of the view. */
export class ViewKeys {
  constructor(
    private readonly now: () => View | null,
    private readonly stores: ViewStores,
    /** Whether cutters are shown, and how far an arrow moves one, mm. */
    private readonly habits: { cutting(): boolean; step(): number },
  ) {}

  /** A key while the focus is in the view. */
  key(e: KeyboardEvent): void {
    const view = this.now();
    if (!view || e.ctrlKey || e.metaKey || isTyping(e)) return;
    if (this.inView(view, e)) e.preventDefault();
  }

  private inView(view: View, e: KeyboardEvent): boolean {
    const { stage, picker, clicks } = view;
    const { tools, picks, store } = this.stores;
    if (tools.drawing && this.draw(view, e)) return true;
    if (tools.picking && !e.altKey && picker.key(e.key, e.shiftKey)) return true;
    if (tools.placing && e.key === 'Enter') clicks.placeOnTop();
    else if (e.key === 'Enter' && picks.on) clicks.clickMiddle(e);
    else if (tools.drawing && BEGINS_TYPING.test(e.key)) return false;
    else if (e.key === '+' || e.key === '-') stage.zoom(e.key === '+' ? 1 / ZOOM : ZOOM);
    else if (NUDGES[e.key] && this.habits.cutting() && store.cutter && !e.altKey)
      this.nudge(NUDGES[e.key]!, e.shiftKey);
    else if (ORBITS[e.key]) stage.orbit(...ORBITS[e.key]!);
    else return false;
    return true;
  }

  /** A key for what is going on, when the focus is not in the view; whether it was taken. */
  elsewhere(e: KeyboardEvent): boolean {
    const view = this.now();
    const { tools } = this.stores;
    const field = tools.typedField;
    if (!view || (!tools.drawing && !field)) return false;
    // Other signs are commands where nothing is drawn.
    const begins = tools.drawing ? BEGINS_TYPING : /^\d$/;
    if (!field || !begins.test(e.key)) return !!tools.drawing && view.drawer.key(e);
    // What is typed in the midst of a drag is meant in its place.
    if (view.pointer.busy) view.pointer.cancel();
    // The key press itself is typed into what has the focus by then.
    field.focus();
    field.select();
    return false;
  }

  private draw({ drawer }: View, e: KeyboardEvent): boolean {
    const way = NUDGES[e.key];
    const times = e.shiftKey ? FAR_STEPS : 1;
    if (BEGINS_TYPING.test(e.key)) return false;
    if (e.key === 'Enter') drawer.enter();
    else if (way && !way[2] && !e.altKey) drawer.nudge(way[0] * times, way[1] * times);
    else return drawer.key(e);
    return true;
  }

  private nudge(way: Way, far: boolean): void {
    const { store } = this.stores;
    const c = store.cutter!;
    const next = nudged(c, way, this.habits.step() * (far ? FAR_STEPS : 1));
    const { part, course } = store.selection;
    store.change(`Nudge ${cutterName(c)}`, setCutter(store.project!, part!, course!, next));
  }
}
