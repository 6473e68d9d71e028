import { DRAWN_TITLES, type DrawnKind } from '@dusky-mason/core/courses';
import type { Command } from '../words/commands.ts';
import { named } from '../words/stageCommands.ts';
import { followsCutter, heldOf } from '../stores/held.ts';
import type { useProject } from '../stores/project.ts';
import type { usePartHand } from '../stores/partHand.ts';
import type { usePicks } from '../stores/picks.ts';
import type { useTools } from '../tools/tools.ts';
import { HANDLE_MODES, type HandleMode } from '../tools/handleMath.ts';
import { VIEWS, type ViewName } from './stage.ts';

/** What the commands of the view act on. */
export interface ViewDoor {
  store: ReturnType<typeof useProject>;
  tools: ReturnType<typeof useTools>;
  picks: ReturnType<typeof usePicks>;
  hand: ReturnType<typeof usePartHand>;
  cutting(): boolean;
  /** The part's radius, mm: grids and shapes suit it. */
  radius(): number;
  look(view: ViewName): void;
  fit(): void;
  /** Looks closely at what is picked, if that has a place. */
  close(): void;
  /** Cancels a drag, a drawing or picking, or clears the pick: one of them. */
  letGo(): void;
  /** Whether there is anything to cancel. */
  holds(): boolean;
}

/** The commands of the view: placing, drawing, handles, views. */
export function viewCommands({
  store,
  tools,
  picks,
  hand,
  cutting,
  radius,
  look,
  fit,
  close,
  letGo,
  holds,
}: ViewDoor): Command[] {
  const bench = () => cutting() && !!store.project && !store.readOnly;
  const cutNow = () => bench() && !!store.part;
  const seen = () => !!store.picture;
  const held = () => bench() && heldOf(store) !== null;
  const onCut = { stage: 'cut', needs: () => (store.part ? 'pick a cutter first' : 'there is no part') } as const;
  const modes = Object.keys(HANDLE_MODES) as HandleMode[];
  const views = Object.keys(VIEWS) as ViewName[];
  let viewAt = 0;
  const kinds = Object.keys(DRAWN_TITLES) as DrawnKind[];
  const also = { slide: 'move', turn: 'rotate', resize: 'scale size', points: 'outline vertices reshape' };
  return [
    {
      ...named('place'),
      when: cutNow,
      run: () => tools.begin(),
    },
    {
      ...named('draw'),
      when: cutNow,
      run: () => tools.draw(undefined, radius(), 'cut'),
    },
    ...kinds.map((k) => ({
      id: `draw-${k}`,
      stage: 'cut' as const,
      title: `Draw: ${DRAWN_TITLES[k].toLowerCase()}`,
      when: cutNow,
      run: () => tools.draw(k, radius(), 'cut'),
    })),
    {
      ...named('draw-turned'),
      when: bench,
      run: () => tools.draw('free', radius(), 'turned'),
    },
    {
      ...named('draw-part'),
      when: bench,
      run: () => tools.draw('free', radius(), 'part'),
    },
    {
      id: 'next-handles',
      title: 'Next set of handles',
      also: 'slide turn resize points move rotate scale',
      keys: 'M',
      ...onCut,
      when: held,
      run: () => (tools.handles = modes[(modes.indexOf(tools.handles) + 1) % modes.length]!),
    },
    ...modes.map((m) => ({
      id: `handles-${m}`,
      title: `Handles: ${HANDLE_MODES[m]}`,
      also: also[m],
      ...onCut,
      when: held,
      run: () => {
        tools.handles = m;
      },
    })),
    {
      ...named('part-hand'),
      when: () => cutNow() && !store.part!.locked && !followsCutter(store.part!),
      needs: () =>
        !store.part ? 'there is no part' : store.part.locked ? 'the part is locked' : 'it follows a cutter',
      run: () => {
        store.select({ course: null });
        tools.handles = 'slide';
        hand.on = true;
      },
    },
    {
      id: 'about-middle',
      title: 'Resize about the middle, or from the other side',
      also: 'symmetric both sides handles',
      ...onCut,
      when: held,
      run: () => {
        tools.aboutMiddle = !tools.aboutMiddle;
      },
    },
    { id: 'fit', title: 'Fit the part into view', also: 'frame zoom all', keys: 'B', when: seen, run: fit },
    {
      id: 'close',
      title: 'Look closely at what is picked',
      also: 'zoom selection frame focus',
      keys: 'Z',
      needs: 'pick something first',
      when: () => seen() && (picks.count > 0 || (cutting() && !!store.cutter)),
      run: close,
    },
    {
      id: 'next-view',
      title: 'Next straight-on view',
      also: 'front side top',
      keys: 'V',
      when: () => !!store.project,
      run: () => look(views[viewAt++ % views.length]!),
    },
    ...views.map((v) => ({
      id: `view-${v}`,
      title: `Look from: ${VIEWS[v].title}`,
      when: () => !!store.project,
      run: () => look(v),
    })),
    { id: 'drop', title: 'Let go of what is picked', also: 'deselect cancel', keys: 'Escape', when: holds, run: letGo },
  ];
}
