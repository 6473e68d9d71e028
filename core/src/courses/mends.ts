import { z } from 'zod';
import { choice } from './fields.ts';
import { everything, PickSchema } from './picks.ts';

// The settings of every mend: what it works on, and how.

export const OrientParams = z.object({
  way: choice(
    'Turn over',
    'flip',
    { flip: 'what is picked', consistent: 'the odd ones out', outward: 'all to look outward' },
    'The odd ones out are the lesser part of a piece. Outward goes shell by shell: a hollow within a body looks into the hollow.',
  ),
  pick: PickSchema.default(everything('face')),
});

/** The settings of each kind of mend. */
export const MEND_PARAMS = { orient: OrientParams } as const;
export type MendKindName = keyof typeof MEND_PARAMS;
