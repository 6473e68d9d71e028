import type { Command } from '../command.ts';
import { cut } from './cut.ts';
import { bevelling, headroom, subdividing } from './dressings.ts';
import { convert, runProject, sample } from './files.ts';
import { healing, quads } from './mends.ts';
import { stroke } from './stroke.ts';
import { survey } from './survey.ts';

/** The commands of `mason`, in the order in which the help lists them. */
export const COMMANDS: Readonly<Record<string, Command>> = {
  survey,
  cut,
  heal: healing,
  quads,
  bevel: bevelling,
  headroom,
  subdivide: subdividing,
  stroke,
  convert,
  sample,
  run: runProject,
};
