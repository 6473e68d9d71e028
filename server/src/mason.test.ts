import { spawnSync } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { skerryLight } from '@dusky-mason/core/demo';
import { writeObj } from '@dusky-mason/core/formats';
import { box, cylinder, sheet } from '@dusky-mason/core/shapes';
import { COMMANDS } from './commands/index.ts';
import { mason } from './mason.ts';

let dir = '';
const at = (name: string) => path.join(dir, name);
async function run(...argv: string[]): Promise<{ code: number; out: string; err: string }> {
  const got = { code: 0, out: '', err: '' };
  got.code = await mason(
    argv,
    (t) => (got.out += t),
    (t) => (got.err += t),
  );
  return got;
}

beforeAll(async () => {
  dir = await mkdtemp(path.join(os.tmpdir(), 'mason-'));
  await writeFile(at('box.obj'), writeObj([{ name: 'Box', mesh: box(100, 60, 20) }]));
  await writeFile(at('tool.obj'), writeObj([{ name: 'Tool', mesh: cylinder(8, 40, 64) }]));
  await writeFile(at('sheet.obj'), writeObj([{ name: 'Sheet', mesh: sheet(5, 5) }]));
});
afterAll(() => rm(dir, { recursive: true }));

describe('mason', () => {
  it('survey --json has the promised keys', async () => {
    const { code, out } = await run('survey', at('box.obj'), '--json');
    expect(code).toBe(0);
    expect(JSON.parse(out)).toEqual({
      vertices: 8,
      faces: 6,
      triangles: 0,
      quads: 6,
      ngons: 0,
      edges: 12,
      openEdges: 0,
      nonManifoldEdges: 0,
      flippedEdges: 0,
      nonManifoldVertices: 0,
      degenerateFaces: 0,
      duplicateFaces: 0,
      slivers: 0,
      components: 1,
      boundaryLoops: 0,
      genus: 0,
      volume: 120000,
      area: 18400,
      bounds: { min: [-50, -30, -10], max: [50, 30, 10] },
    });
  });

  it('survey --rules tells findings one line each; --strict ends with 4 when an error stands', async () => {
    const sound = await run('survey', at('box.obj'), '--rules', 'openEdges,slivers', '--strict');
    expect(sound).toEqual({ code: 0, out: 'nothing found\n', err: '' });
    const open = await run('survey', at('sheet.obj'), '--rules', 'openEdges,poles', '--strict');
    expect(open.code).toBe(4);
    expect(open.out).toMatch(/^error {3}openEdges: open edges, 4, longest opening 20 mm, at -?[\d.]+, -?[\d.]+, 0\n$/);
    expect((await run('survey', at('sheet.obj'), '--rules', 'openEdges')).code).toBe(0);
    expect((await run('survey', at('sheet.obj'), '--strict')).code).toBe(4);
    const wrong = await run('survey', at('sheet.obj'), '--rules', 'beauty');
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringContaining('There is no rule "beauty"')]);
    const { out } = await run('survey', at('sheet.obj'), '--rules', 'all', '--json');
    const r = JSON.parse(out) as { openEdges: number; findings: Record<string, unknown>[] };
    expect(r.openEdges).toBe(4);
    expect(r.findings[0]).toEqual({
      rule: 'openEdges',
      title: 'Open edges',
      severity: 'error',
      count: 4,
      worst: 20,
      unit: 'mm',
      spoils: ['bevel', 'subdivision', 'shading', 'export'],
      places: Array(4).fill({ edge: expect.any(Number), point: expect.any(Array), value: 20 }),
    });
    expect((await run('help', 'survey')).out).toContain('crossingFaces');
  });

  it('cut --json adds strategy, ms and drift, and writes the result', async () => {
    const { code, out } = await run(
      'cut',
      at('box.obj'),
      at('tool.obj'),
      '--op',
      'subtract',
      '--out',
      at('cut.obj'),
      '--json',
    );
    expect(code).toBe(0);
    const r = JSON.parse(out) as Record<string, unknown>;
    expect(r).toMatchObject({ vertices: 136, faces: 70, genus: 1, drift: 0 });
    expect(typeof r.ms).toBe('number');
    expect(r.strategy).toContain('1e-9');
    const again = JSON.parse((await run('survey', at('cut.obj'), '--json')).out) as Record<string, unknown>;
    expect(again).toMatchObject({ openEdges: 0, genus: 1, vertices: 136 });
  });

  it('cut splits, scribes and slits, each with its options', async () => {
    const cut = async (...more: string[]) => {
      const r = await run('cut', at('box.obj'), at('tool.obj'), ...more, '--json');
      expect(r.err).toBe('');
      return JSON.parse(r.out) as Record<string, number>;
    };
    const disc = 32 * 64 * Math.sin(Math.PI / 32);
    expect(await cut('--op', 'split')).toMatchObject({
      components: 2,
      openEdges: 0,
      volume: expect.closeTo(120000, 6),
    });
    expect((await cut('--op', 'split', '--keep', 'offcut')).volume).toBeCloseTo(disc * 20, 6);
    expect(await cut('--op', 'scribe')).toMatchObject({ volume: 120000, enclosed: 2, faces: 8, seamEdges: 128 });
    expect(await cut('--op', 'scribe', '--along', '0,0,-3')).toMatchObject({ enclosed: 1, faces: 7 });
    const slit = await cut('--op', 'kerf', '--width', '2', '--depth', '3', '--along', '0,0,-1');
    expect(slit).toMatchObject({ slits: { cut: 1, asked: 1 } });
    expect(slit.volume).toBeCloseTo(120000 - 3 * 2 * 2 * 64 * 8 * Math.sin(Math.PI / 64), 6);
    expect(await cut('--op', 'subtract')).toMatchObject({ faces: 70 });
    expect(await cut('--op', 'subtract', '--tidy')).toMatchObject({ faces: 70, openEdges: 0 });
    expect(await cut('--op', 'subtract', '--ties', 'corners')).toMatchObject({ faces: 4 + 64 + 8, openEdges: 0 });
    expect(await cut('--op', 'subtract', '--ties', 'ring', '--ring', '3')).toMatchObject({
      faces: 70 + 128,
      openEdges: 0,
    });
    expect(await cut('--op', 'subtract', '--uvs', 'strip')).toMatchObject({ faces: 70 });
    for (const bad of [
      ['--op', 'subtract', '--ties', 'long'],
      ['--op', 'subtract', '--ties', 'ring', '--ring', '-3'],
      ['--op', 'subtract', '--uvs', 'round'],
      ['--op', 'kerf', '--width', '2'],
      ['--op', 'scribe', '--along', '0,0'],
      ['--op', 'split', '--keep', 'all'],
    ])
      expect((await run('cut', at('box.obj'), at('tool.obj'), ...bad)).code).toBe(2);
    expect((await run('help', 'cut')).out).toContain('--spacing');
  });

  it('convert and sample write what their endings say', async () => {
    expect((await run('convert', at('box.obj'), at('box.stl'))).code).toBe(0);
    expect((await readFile(at('box.stl'))).length).toBe(84 + 50 * 12);
    expect((await run('sample', 'mast-clamp', '--out', at('clamp.glb'))).code).toBe(0);
    expect((await readFile(at('clamp.glb'))).subarray(0, 4).toString()).toBe('glTF');
  });

  it('run evaluates a project file and a bare document alike', async () => {
    await run('sample', 'skerry-light', '--out', at('skerry.mason'));
    await writeFile(at('skerry.json'), JSON.stringify(skerryLight()));
    const [a, b] = await Promise.all([at('skerry.mason'), at('skerry.json')].map((f) => run('run', f, '--json')));
    const strip = (t: string) => t.replace(/"ms":[\d.e-]+/g, '');
    expect(a!.code).toBe(0);
    expect(strip(a!.out)).toBe(strip(b!.out));
    const parts = (JSON.parse(a!.out) as { parts: { part: string; survey: { genus: number } }[] }).parts;
    expect(parts.map((p) => p.part)).toEqual([
      'Pump-house wall',
      'Gauge pod',
      'Mast clamp',
      'Louvre panel',
      'Door frame',
      'Door leaf',
    ]);
    const one = await run('run', at('skerry.json'), '--part', 'Gauge pod', '--out', at('pod.obj'));
    expect(one.out).toContain('done Bore');
    expect((await readFile(at('pod.obj'), 'utf8')).split('\n').filter((l) => l.startsWith('g '))).toEqual([
      'g Gauge pod',
    ]);
  });

  it.each([
    [2, ['frobnicate']],
    [2, ['survey']],
    [2, ['survey', 'nowhere.obj']],
    [2, ['cut', 'box.obj', 'tool.obj']],
    [2, ['cut', 'box.obj', 'sheet.obj', '--op', 'subtract']],
    [2, ['convert', 'box.obj', 'box.exe']],
    [2, ['sample', 'moon', '--out', 'x.obj']],
    [2, ['run', 'box.obj']],
    [2, ['survey', 'box.obj', '--colour']],
    [2, ['toString']],
    [2, ['constructor']],
    [2, ['__proto__']],
    [2, ['help', 'toString']],
    [2, ['sample', 'constructor', '--out', 'x.obj']],
    [2, ['survey', 'box.obj', '--width', '2']],
    [2, ['survey', 'box.obj', 'tool.obj']],
    [2, ['survey', 'box.obj', '--rules']],
    [2, ['survey', 'box.obj', '--rules', 'constructor']],
    [2, ['convert', 'box.obj', 'x.obj', '--out', 'y.obj']],
    [2, ['convert', 'box.obj', '']],
    [2, ['cut', 'box.obj', 'tool.obj', '--op']],
    [2, ['cut', 'box.obj', 'tool.obj', '--op', 'toString']],
    [2, ['cut', 'box.obj', 'tool.obj', '--op', 'subtract', '--out=']],
    [2, ['cut', 'box.obj', 'tool.obj', '--op', 'subtract', '--width', '3']],
    [2, ['cut', 'box.obj', 'tool.obj', '--op', 'subtract', '--op', 'union']],
    [2, ['cut', 'box.obj', 'tool.obj', '--op', 'kerf', '--width', '-0', '--depth', '1']],
    [2, ['cut', 'box.obj', 'tool.obj', '--op', 'kerf', '--width', '1e-30', '--depth', '1']],
    [2, ['cut', 'box.obj', 'tool.obj', '--op', 'kerf', '--width', '2', '--depth', 'x']],
    [2, ['cut', 'box.obj', 'tool.obj', '--op', 'scribe', '--along', '1,,x']],
    [2, ['bevel', 'box.obj']],
    [2, ['bevel', 'box.obj', '--width', 'wide']],
    [2, ['bevel', 'box.obj', '--width', '1e-30']],
    [2, ['bevel', 'box.obj', '--width', '1', '--angle', 'steep']],
    [2, ['bevel', 'box.obj', '--width', '1', '--profile', 'x']],
    [2, ['bevel', 'box.obj', '--width', '1', '--segments', '1e999']],
    [2, ['bevel', 'box.obj', '--width', '1', '--json=yes']],
    [2, ['subdivide', 'box.obj']],
    [2, ['quads', 'box.obj', '--pairs', 'many']],
    [2, ['heal', 'box.obj', '--widest', '-1']],
    [2, ['survey', 'box.obj', '--', '--json']],
  ])('exits %i with one sentence for %j', async (code, argv) => {
    const r = await run(...argv.map((a) => (a.includes('.') ? at(a) : a)));
    expect(r.code).toBe(code);
    expect(r.err.split('\n')).toHaveLength(1);
    expect(r.err).not.toMatch(/ERR_|Error|undefined|NaN|node:|at .*\.ts/);
    expect(r.err.length).toBeGreaterThan(10);
  });

  it('exits 3 when a course could not be done', async () => {
    const project = skerryLight();
    const cut = project.parts[2]!.courses[1]!;
    if (cut.kind === 'cut') cut.params.operation = 'intersect';
    if (cut.kind === 'cut') cut.params.cutters[0]!.placement.position = [900, 0, 0];
    await writeFile(at('bad.json'), JSON.stringify(project));
    const r = await run('run', at('bad.json'), '--part', 'Mast clamp');
    expect(r.code).toBe(3);
    expect(r.out).toContain('failed Adjusting slot');
  });

  it('heal mends the salvaged casting, and says what each step did', async () => {
    await run('sample', 'salvaged-casting', '--out', at('casting.obj'));
    const before = JSON.parse((await run('survey', at('casting.obj'), '--json')).out) as { openEdges: number };
    expect(before.openEdges).toBeGreaterThan(100);
    const r = await run('heal', at('casting.obj'), '--out', at('healed.obj'), '--json');
    const told = JSON.parse(r.out) as {
      steps: Record<string, number>;
      open: number;
      odd: number;
      openEdges: number;
      after: { volume: number };
    };
    expect([r.code, told.open, told.odd, told.openEdges]).toEqual([0, 0, 0, 0]);
    for (const step of ['weld', 'doubled', 'stitch', 'sides', 'walls', 'filled', 'shells', 'outward'])
      expect(told.steps[step], step).toBeGreaterThan(0);
    expect(told.after.volume).toBeGreaterThan(1e5);
    const after = JSON.parse((await run('survey', at('healed.obj'), '--json')).out) as { openEdges: number };
    expect(after.openEdges).toBe(0);
    expect((await run('heal', at('casting.obj'), '--as', 'stone')).code).toBe(2);
    expect((await run('heal', at('casting.obj'), '--tolerance', '-1')).err).toContain('--tolerance');
  });

  it('quads lays faces out, and keeps edges whole where that is asked for', async () => {
    await run('cut', at('box.obj'), at('tool.obj'), '--op', 'subtract', '--out', at('holed.obj'));
    const r = await run(
      'quads',
      at('holed.obj'),
      '--out',
      at('quads.obj'),
      '--keep-edges',
      '--goal',
      'fewest',
      '--json',
    );
    const told = JSON.parse(r.out) as { faces: number; split: number; left: number; ngons: number; openEdges: number };
    expect([r.code, told.split, told.left, told.ngons, told.openEdges]).toEqual([0, 0, 0, 0, 0]);
    // Each of the two faces with the hole becomes as many quads as its 64 spokes make, at least.
    expect(told.faces).toBeGreaterThanOrEqual(4 + 64 + 2 * 64);
    const shaped = JSON.parse((await run('quads', at('holed.obj'), '--json')).out) as Record<string, number>;
    expect(shaped.aligned).toBeGreaterThan(0.5);
    expect(shaped).toMatchObject({ drift: 0, poles: 8, triangles: 0, gathered: 0, ms: expect.any(Number) as number });
    const dense = JSON.parse((await run('quads', at('holed.obj'), '--density', '4', '--json')).out) as Record<
      string,
      number
    >;
    expect([shaped.divided, dense.divided! > 100, dense.quads! - shaped.quads!]).toEqual([0, true, dense.divided]);
    expect((await run('quads', at('holed.obj'), '--density', 'thin')).code).toBe(2);
    expect((await run('quads', at('holed.obj'), '--goal', 'round')).code).toBe(2);
    expect((await run('help', 'quads')).out).toContain('--keep-edges');
  });

  it('bevel, headroom and subdivide: one measure of the room, and what came of it', async () => {
    const room = await run('headroom', at('box.obj'), '--angle', '30', '--json');
    const told = JSON.parse(room.out) as {
      headroom: number;
      chains: { edges: number; headroom: number; what: string; at: number[] }[];
    };
    expect([room.code, told.chains.length, told.chains[0]!.edges]).toEqual([0, 1, 12]);
    expect(told.headroom).toBeCloseTo(10, 6);
    const r = await run(
      'bevel',
      at('box.obj'),
      '--angle',
      '30',
      '--width',
      '2mm',
      '--segments',
      '3',
      '--out',
      at('round.obj'),
      '--json',
    );
    const made = JSON.parse(r.out) as {
      headroom: number;
      chains: unknown[];
      rounded: number;
      narrowed: number;
      openEdges: number;
      faces: number;
    };
    expect([r.code, made.rounded, made.narrowed, made.openEdges, made.faces]).toEqual([0, 12, 0, 0, 6 + 36 + 56]);
    expect(made.headroom).toBeCloseTo(10, 6);
    expect(made.chains).toHaveLength(1);
    const back = await run('survey', at('round.obj'), '--rules', 'all', '--strict');
    expect(back.code).toBe(0);
    // A file has no holes in faces: the ties there are gone over.
    await run('cut', at('box.obj'), at('tool.obj'), '--op', 'subtract', '--out', at('tied.obj'));
    const tied = await run('bevel', at('tied.obj'), '--width', '1', '--json');
    expect(JSON.parse(tied.out)).toMatchObject({ openEdges: 0, nonManifoldEdges: 0, narrowed: 0, genus: 1 });
    expect((await run('bevel', at('box.obj'), '--width', '30', '--past', 'stop')).code).toBe(3);
    expect((await run('bevel', at('box.obj'), '--width', '0')).err).toContain('--width 2mm');
    expect((await run('bevel', at('box.obj'), '--width', '1', '--segments', '0')).code).toBe(2);
    const twice = await run('subdivide', at('box.obj'), '--levels', '2', '--out', at('smooth.obj'), '--json');
    expect(JSON.parse(twice.out)).toMatchObject({ from: 6, faces: 96, quads: 96, openEdges: 0 });
    expect((await run('subdivide', at('box.obj'), '--levels', '9')).code).toBe(2);
    expect((await run('help', 'bevel')).out).toContain('mason bevel IN');
  });

  it('stroke lays any stroke, with options and defaults from its declaration', async () => {
    const r = await run('stroke', 'inset', at('box.obj'), '--distance', '0.5cm', '--depth', '-2', '--json');
    const told = JSON.parse(r.out) as { found: number; counts: { distance: number }; faces: number; drift: number };
    expect([r.code, told.found, told.counts.distance, told.faces]).toEqual([0, 6, 5, 6 * 5]);
    expect(told.drift).toBeGreaterThan(1.9);
    const sharp = await run('stroke', 'bevel', at('box.obj'), '--pick', 'sharper=45', '--out', at('bev.obj'), '--json');
    // Two segments by default, as in the form: 12 edges in two strips each, and 8 corners of four quads.
    expect(JSON.parse(sharp.out)).toMatchObject({ found: 12, of: 12, openEdges: 0, counts: { edges: 12, strips: 24 } });
    const moved = await run('stroke', 'move', at('box.obj'), '--by', '-1,2cm,0', '--json');
    expect(JSON.parse(moved.out)).toMatchObject({ counts: { moved: 8 } });
    for (const [wrong, says] of [
      [['stroke', 'toString', at('box.obj')], 'no stroke'],
      [['stroke', 'inset', at('box.obj'), '--distance', 'far'], '--distance'],
      [['stroke', 'inset', at('box.obj'), '--distance', '-1'], 'Distance'],
      [['stroke', 'inset', at('box.obj'), '--group', 'maybe'], 'yes, no'],
      [['stroke', 'inset', at('box.obj'), '--pick', 'some'], '--pick takes'],
      [['stroke', 'inset', at('box.obj'), '--on', 'edge'], '--on takes one of face'],
      [['stroke', 'line', at('box.obj')], 'in full'],
      [['stroke', 'inset', at('box.obj'), '--segments', '2'], 'takes no option'],
      [['stroke', 'inset', at('box.obj'), '--distance', '80'], 'room'],
    ] as const) {
      const bad = await run(...wrong);
      expect([bad.code, bad.err], wrong.join(' ')).toEqual([2, expect.stringContaining(says)]);
    }
    expect((await run('help', 'stroke', 'heal')).out).toContain('--widest LENGTH');
    expect((await run('help', 'inset')).out).toContain('Default: 1 mm.');
  });

  it('negative numbers are values, and an ending is looked at before any work is done', async () => {
    const along = await run('cut', at('box.obj'), at('tool.obj'), '--op', 'scribe', '--along', '-0.0,0,-3', '--json');
    expect([along.code, (JSON.parse(along.out) as { enclosed: number }).enclosed]).toEqual([0, 1]);
    const hollow = await run('bevel', at('box.obj'), '--width', '2', '--profile', '-1', '--segments', '2', '--json');
    expect([hollow.code, hollow.err]).toEqual([0, '']);
    const early = await run('bevel', at('nowhere.obj'), '--width', '2', '--out', at('x.exe'));
    expect([early.code, early.err]).toEqual([2, `"${at('x.exe')}" must end in .obj, .stl or .glb.`]);
    const nowhere = await run('convert', at('box.obj'), at('none/box.obj'));
    expect([nowhere.code, nowhere.err]).toEqual([2, expect.stringContaining('cannot be written')]);
  });

  it('ends quietly when what reads it has gone', async () => {
    const mason = 'npx tsx server/src/mason.ts';
    const script = `${mason} survey "${at('box.obj')}" --rules all --json | true; ${mason} help | head -c 1`;
    // Node warns where colour is both asked for and refused, as a runner of tests may do.
    const env = { ...process.env, NO_COLOR: undefined, FORCE_COLOR: undefined };
    const piped = spawnSync('sh', ['-c', script], { encoding: 'utf8', env });
    expect([piped.stdout, piped.stderr.replace(/^npm warn.*\n/gm, '')]).toEqual(['m', '']);
  });

  it('help tells all commands', async () => {
    const { out } = await run('help');
    for (const word of Object.keys(COMMANDS)) expect(out).toContain(`mason ${word}`);
  });
});
