import type { LineClass } from '@dusky-mason/core/mesh';

/** What is picked, as 0xRRGGBB, and what is about to be, over a part. */
export const VERDIGRIS = 0x4fb3a8;
export const OCHRE = 0xe0a93a;

/** The same where it stands as a body of its own, such as a handle or a cutter. */
export const DEEP_VERDIGRIS = 0x2f7f79;
export const DEEP_OCHRE = 0xb07a1e;
export const LIMESTONE = 0xece6dc;
export const SMOKE = 0x2a2233;

/** The places of a finding. */
export const BRICK = 0xe0634c;

/** How each class of edge is told apart: by weight (pixels) and dash first, colour only repeats it. */
export const LINE_LOOKS: Record<
  LineClass,
  { title: string; width: number; dash: number[]; colour: number; opacity: number }
> = {
  plain: { title: 'edge', width: 1, dash: [], colour: 0x2a2233, opacity: 0.28 },
  fold: { title: 'fold of a bent face', width: 1, dash: [1, 3], colour: 0x2a2233, opacity: 0.28 },
  tie: { title: 'tie', width: 1.4, dash: [2, 5], colour: 0x2a2233, opacity: 0.75 },
  hard: { title: 'hard edge', width: 1.5, dash: [], colour: 0x2a2233, opacity: 0.9 },
  cut: { title: 'cut edge', width: 2.6, dash: [10, 3], colour: 0x17302e, opacity: 1 },
  open: { title: 'open edge', width: 3.4, dash: [3, 4], colour: 0xb07a1e, opacity: 1 },
  nonManifold: { title: 'non-manifold edge', width: 5, dash: [], colour: 0xa6402f, opacity: 1 },
};

/**
 * A ramp for heat that gets darker all the way, so that it reads in black and white: from limestone over ochre to plum.
 */
export const HEAT_RAMP = [0xece6dc, 0xd9b36a, 0xb0702a, 0x7a3550, 0x2a1638];

/** Classes, such as those of distances, told apart by lightness as well as by hue. */
export const CLASS_COLOURS = [0xe0d8cb, 0xa9c4b4, 0xd9a441, 0x2f7f79, 0x8a4f6d, 0x3b2b4d, 0xbf5b3f, 0x6f8a4a];

/** What is beyond a limit. */
export const BEYOND_LIMIT = 0xc2361f;

/** A colour as CSS writes it. */
export const cssColour = (rgb: number): string => `#${rgb.toString(16).padStart(6, '0')}`;

/** The heat ramp as a CSS gradient, from left to right. */
export const HEAT_GRADIENT = `linear-gradient(to right, ${HEAT_RAMP.map(cssColour).join(', ')})`;
