import { STROKE_GROUPS, strokeOf } from '@dusky-mason/core/courses';
import { knownCommands, type Command } from './commands.ts';
import type { StageName } from './stages.ts';

/** What *Find a tool* knows of a command that lives on one stage, whichever stage one is on. */
export interface Named {
  title: string;
  also: string;
  stage: StageName;
  keys?: string;
  /** What is missing where it cannot be done, in a few words. */
  needs?: string;
}

/** The commands of single stages, by id: their components take their names from here. */
const NAMED = {
  place: {
    needs: 'there is no part',
    stage: 'cut',
    title: 'Place a cutter',
    also: 'new cut hole subtract add carve draw drill boolean bore union difference intersect',
    keys: 'C',
  },
  draw: {
    needs: 'there is no part',
    stage: 'cut',
    title: 'Draw on the part',
    also: 'sketch outline rectangle circle cut hole pull extrude pocket',
    keys: 'D',
  },
  'part-hand': {
    needs: 'there is no part',
    stage: 'cut',
    title: 'Move the part in the view',
    also: 'drag slide translate whole part snap align beside',
    keys: 'P',
  },
  'draw-turned': {
    stage: 'cut',
    title: 'Draw a profile and turn it to a new part',
    also: 'lathe revolve trace body',
    keys: 'T',
  },
  'draw-part': {
    stage: 'cut',
    title: 'Draw an outline and pull it to a new part',
    also: 'extrude prism trace body',
  },
  'cutter-repeat': {
    needs: 'pick a cutter first',
    stage: 'cut',
    title: 'Repeat the picked cutter',
    also: 'array pattern row grid copies radial polar circular linear',
  },
  'finding-next': {
    needs: 'pick a finding first',
    stage: 'survey',
    title: 'Next place of the finding',
    also: 'survey fly',
    keys: '.',
  },
  'finding-before': {
    needs: 'pick a finding first',
    stage: 'survey',
    title: 'Previous place of the finding',
    also: 'survey fly previous',
    keys: ',',
  },
  'finding-alone': {
    needs: 'pick a finding first',
    stage: 'survey',
    title: 'Fade everything but the finding',
    also: 'survey isolate',
  },
  'survey-deep': {
    stage: 'survey',
    title: 'Look for faces that cut through each other',
    also: 'survey self crossing intersection overlap deep check validate',
  },
  'survey-csv': {
    needs: 'there is no part',
    stage: 'survey',
    title: 'Save the findings as CSV',
    also: 'survey report table export check validate errors',
  },
  'measure-distance': {
    needs: 'there is no part',
    stage: 'survey',
    title: 'Measure the distance between two points',
    also: 'gauge length ruler dimension',
  },
  'measure-boundary': {
    needs: 'there is no part',
    stage: 'survey',
    title: 'Measure the length of a boundary',
    also: 'loop perimeter edge dimension',
  },
  'measure-between': {
    needs: 'there is no part',
    stage: 'survey',
    title: 'Measure the distance between two boundaries',
    also: 'loops gap holes dimension',
  },
  'measure-face': {
    needs: 'there is no part',
    stage: 'survey',
    title: 'Measure a face, and the wall below a place on it',
    also: 'area thickness dimension',
  },
  'measure-wall': {
    needs: 'there is no part',
    stage: 'survey',
    title: 'Measure the thinnest wall beside a cut',
    also: 'thickness left dimension',
  },
  'measure-angle': {
    needs: 'there is no part',
    stage: 'survey',
    title: 'Measure the angle between two edges',
    also: 'dihedral dimension',
  },
  gauge: {
    needs: 'there is no part',
    stage: 'survey',
    title: 'Plug gauge: is a hole round?',
    also: 'measure circle diameter radius fit',
  },
  'gauge-wall': {
    needs: 'there is no part',
    stage: 'survey',
    title: 'Plug gauge on a wall: is a hole round and straight?',
    also: 'measure cylinder taper fit',
  },
  'sides-flip': {
    needs: 'pick faces first',
    stage: 'survey',
    title: 'Turn the picked faces over',
    also: 'flip normals reverse',
  },
  'sides-agree': {
    needs: 'there is no part',
    stage: 'survey',
    title: 'Make faces consistent: turn the odd ones over',
    also: 'normals orientation recalculate',
  },
  'sides-outward': {
    needs: 'there is no part',
    stage: 'survey',
    title: 'Turn all faces outward, shell by shell',
    also: 'normals inside out flip recalculate',
  },
  dispatch: {
    needs: 'choose a part first',
    stage: 'dispatch',
    title: 'Write the chosen parts to a file',
    also: 'export download save obj glb gltf stl',
  },
  'dispatch-project': { stage: 'dispatch', title: 'Save a project file', also: 'export download zip backup' },
} as const satisfies Record<string, Named>;

/** The id and the names of a command that lives on one stage, for the component that runs it. */
export const named = (id: keyof typeof NAMED): Named & { id: string } => ({ id, ...NAMED[id] });

/** The id and the names of the command that lays a stroke. */
export const namedStroke = (k: Parameters<typeof strokeOf>[0]): Named & { id: string } => ({
  id: `stroke-${k}`,
  stage: 'dress',
  title: strokeOf(k).title,
  also: `mend ${strokeOf(k).also}`,
});

/** All commands that live on one stage. */
export const stageCommands = (): readonly (Named & { id: string })[] => [
  ...(Object.keys(NAMED) as (keyof typeof NAMED)[]).map(named),
  ...STROKE_GROUPS.flatMap((g) => g.kinds).map(namedStroke),
];

/** What is known here, and the commands that other stages, or other picks, have: these cannot be done from here. */
export function everyCommand(): Command[] {
  const known = knownCommands();
  const others = stageCommands().filter((c) => !known.some((k) => k.id === c.id));
  return [...known, ...others.map((c): Command => ({ ...c, when: () => false, run: () => undefined }))];
}
