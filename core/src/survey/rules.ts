import * as crossing from './crossingRules.ts';
import * as edge from './edgeRules.ts';
import * as face from './faceRules.ts';
import type { Looked, Places } from './look.ts';
import * as shell from './shellRules.ts';
import * as normal from './normalRules.ts';
import { flippedFaces } from './sides.ts';
import * as uv from './uvRules.ts';
import * as vertex from './vertexRules.ts';

/** What a finding affects. */
export const SPOILS = ['bevel', 'subdivision', 'shading', 'export'] as const;
export type Spoils = (typeof SPOILS)[number];

/**
 * `error`: the mesh is not what a receiver takes it for. `warning`: something goes wrong with it later. `note`: good to
 * know.
 */
export type Severity = 'error' | 'warning' | 'note';

/** What is looked for, and how it is reported. */
export interface Rule {
  title: string;
  severity: Severity;
  spoils: readonly Spoils[];
  /** Why it matters, in a sentence. */
  why: string;
  /** What the value of each place is, and which of them is the worst; none where nothing is measured. */
  worst?: { unit: 'mm' | '°' | 'mm²' | 'mm³' | 'count'; is: 'least' | 'greatest'; title: string };
  /** Runs only on demand: it costs more than a pass over the topology. */
  deep?: boolean;
  find(l: Looked): Places;
}

const ALL: readonly Spoils[] = SPOILS;

/** All rules by the name that they have in files and on the command line. The names stay as they are. */
export const RULES = {
  openEdges: {
    title: 'Open edges',
    severity: 'error',
    spoils: ALL,
    why: 'One face only: the part has no inside there, so no cut and no print.',
    worst: { unit: 'mm', is: 'greatest', title: 'longest opening' },
    find: edge.openEdges,
  },
  nonManifoldEdges: {
    title: 'Non-manifold edges',
    severity: 'error',
    spoils: ALL,
    why: 'Three faces or more: a bevel cannot tell which way to go.',
    worst: { unit: 'count', is: 'greatest', title: 'most faces' },
    find: edge.nonManifoldEdges,
  },
  nonManifoldVertices: {
    title: 'Pinched vertices',
    severity: 'error',
    spoils: ['bevel', 'subdivision', 'export'],
    why: 'Faces meet at a point only: there is no way round it.',
    find: vertex.pinchedVertices,
  },
  flippedEdges: {
    title: 'Flipped edges',
    severity: 'error',
    spoils: ALL,
    why: 'One of the two faces looks inward: it shades dark, and renderers drop it.',
    find: edge.flippedEdges,
  },
  flippedFaces: {
    title: 'Flipped faces',
    severity: 'error',
    spoils: ALL,
    why: 'They look the other way than the rest of their piece.',
    find: flippedFaces,
  },
  insideOut: {
    title: 'Shells inside out',
    severity: 'error',
    spoils: ['shading', 'export'],
    why: 'The whole piece looks inward: a cut takes the wrong side of it.',
    worst: { unit: 'mm³', is: 'greatest', title: 'largest' },
    find: shell.insideOut,
  },
  crossingFaces: {
    title: 'Faces that cut through each other',
    severity: 'error',
    spoils: ['bevel', 'export'],
    why: 'What is inside and what is outside is not settled there.',
    deep: true,
    find: crossing.crossingFaces,
  },
  overlappingFaces: {
    title: 'Faces over each other',
    severity: 'error',
    spoils: ['shading', 'export'],
    why: 'Two faces in one plane flicker where they share area.',
    deep: true,
    find: crossing.overlappingFaces,
  },
  degenerateFaces: {
    title: 'Faces without area',
    severity: 'error',
    spoils: ALL,
    why: 'They have no direction, so shading breaks at them.',
    worst: { unit: 'mm²', is: 'least', title: 'least area' },
    find: face.zeroAreaFaces,
  },
  duplicateFaces: {
    title: 'Doubled faces',
    severity: 'error',
    spoils: ALL,
    why: 'Two faces on the same vertices.',
    find: face.doubledFaces,
  },
  innerFaces: {
    title: 'Inner walls',
    severity: 'error',
    spoils: ALL,
    why: 'A wall with material on both sides: nobody sees it, and every edge of it is in the way.',
    find: face.innerFaces,
  },
  innerShells: {
    title: 'Bodies within a body',
    severity: 'warning',
    spoils: ['export'],
    why: 'A piece that looks outward lies wholly in another: its volume counts twice.',
    worst: { unit: 'mm³', is: 'greatest', title: 'largest' },
    find: shell.innerShells,
  },
  voids: {
    title: 'Hollows',
    severity: 'note',
    spoils: ['export'],
    why: 'Closed off on all sides: fine if it is meant, a trap for powder if it is not.',
    worst: { unit: 'mm³', is: 'greatest', title: 'largest' },
    find: shell.voids,
  },
  doubledVertices: {
    title: 'Doubled vertices',
    severity: 'warning',
    spoils: ['bevel', 'subdivision', 'shading'],
    why: 'Two vertices in one place: an edge looks whole and is a crack.',
    worst: { unit: 'mm', is: 'greatest', title: 'widest' },
    find: vertex.doubledVertices,
  },
  verticesOnEdges: {
    title: 'Vertices on a foreign edge',
    severity: 'warning',
    spoils: ['bevel', 'subdivision', 'shading'],
    why: 'A vertex lies on an edge that it does not belong to: the two sides were split differently, or pieces touch.',
    worst: { unit: 'mm', is: 'greatest', title: 'furthest off' },
    find: vertex.verticesOnEdges,
  },
  isolatedVertices: {
    title: 'Isolated vertices',
    severity: 'warning',
    spoils: ['export'],
    why: 'No face uses them; they make the box and the pivot wrong.',
    find: vertex.isolatedVertices,
  },
  strayEdges: {
    title: 'Stray edges',
    severity: 'warning',
    spoils: ['bevel', 'subdivision'],
    why: 'A boundary runs out along them and back: they bound nothing.',
    find: edge.strayEdges,
  },
  singleTies: {
    title: 'Holes on a single tie',
    severity: 'warning',
    spoils: ['bevel', 'subdivision'],
    why: 'A hole is tied to its surround by one doubled edge; two at least are needed.',
    find: edge.singleTies,
  },
  slivers: {
    title: 'Slivers',
    severity: 'warning',
    spoils: ['bevel', 'shading'],
    why: `A corner under ${face.SLIVER_ANGLE}°: they streak in the light and stop a bevel short.`,
    worst: { unit: '°', is: 'least', title: 'sharpest' },
    find: face.slivers,
  },
  shortEdges: {
    title: 'Very short edges',
    severity: 'warning',
    spoils: ['bevel', 'subdivision'],
    why: 'Shorter than a ten-thousandth of the part: no bevel passes them.',
    worst: { unit: 'mm', is: 'least', title: 'shortest' },
    find: edge.shortEdges,
  },
  foldedFaces: {
    title: 'Folded faces',
    severity: 'warning',
    spoils: ['subdivision', 'shading', 'export'],
    why: 'A boundary crosses itself, or a quad turns inward at a corner: programs cut them into triangles differently.',
    find: face.foldedFaces,
  },
  straightVertices: {
    title: 'Leftover vertices',
    severity: 'warning',
    spoils: ['bevel', 'subdivision'],
    why: 'They lie in the middle of a straight run and do nothing but split it.',
    find: vertex.straightVertices,
  },
  looseHardEdges: {
    title: 'Hard edges that end nowhere',
    severity: 'warning',
    spoils: ['shading', 'bevel'],
    why: 'A single hard edge ends among soft ones: the shading tears there.',
    find: edge.looseHardEdges,
  },
  bentFaces: {
    title: 'Bent faces',
    severity: 'note',
    spoils: ['shading', 'export'],
    why: 'Not flat: each program cuts them into triangles its own way.',
    worst: { unit: 'mm', is: 'greatest', title: 'greatest bend' },
    find: face.bentFaces,
  },
  ngons: {
    title: 'N-gons',
    severity: 'note',
    spoils: ['subdivision'],
    why: 'Five corners or more, or holes in the face. Fine on flat faces; subdivision pinches at them.',
    worst: { unit: 'count', is: 'greatest', title: 'most corners' },
    find: face.ngons,
  },
  triangles: {
    title: 'Triangles',
    severity: 'note',
    spoils: ['subdivision'],
    why: 'Fine on flats; on a curved surface they show when it is subdivided.',
    find: face.triangles,
  },
  poles: {
    title: 'Poles',
    severity: 'note',
    spoils: ['subdivision'],
    why: 'Other than four edges meet: loops turn away there, and a curved surface pinches.',
    worst: { unit: 'count', is: 'greatest', title: 'most edges' },
    find: vertex.poles,
  },
  badNormals: {
    title: 'Broken shading normals',
    severity: 'error',
    spoils: ['shading', 'export'],
    why: 'They have no direction, or look away from their face: it is drawn black.',
    find: normal.badNormals,
  },
  uvMissing: {
    title: 'Faces without UVs',
    severity: 'note',
    spoils: ['export'],
    why: 'They have no place on a texture.',
    find: uv.uvMissing,
  },
  uvFlipped: {
    title: 'UVs turned over',
    severity: 'note',
    spoils: ['export'],
    why: 'Lettering comes out mirrored, and normal maps light from the wrong side.',
    find: uv.uvFlipped,
  },
  uvZeroArea: {
    title: 'UVs without area',
    severity: 'note',
    spoils: ['export'],
    why: 'The texture is drawn out to a line.',
    find: uv.uvZeroArea,
  },
  uvOverlapping: {
    title: 'UVs over each other',
    severity: 'note',
    spoils: ['export'],
    why: 'What is painted or baked on the one shows on the other.',
    deep: true,
    find: crossing.uvOverlapping,
  },
} as const satisfies Record<string, Rule>;

export type RuleName = keyof typeof RULES;
export const RULE_NAMES = Object.keys(RULES) as RuleName[];
export const ruleOf = (name: RuleName): Rule => RULES[name];
