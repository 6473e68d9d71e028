import path from 'node:path';
import type { PolyMesh } from '@dusky-mason/core/mesh';
import { surveyCounts } from '@dusky-mason/core/survey';
import { type Call, type Command, JSON_OPTION, type OptionSpecs, OUT_OPTION, tell } from '../command.ts';
import { checkEnding, load, save } from '../meshFiles.ts';

/** The resulting mesh and its report. */
export interface Made {
  mesh: PolyMesh;
  told: Record<string, unknown>;
}

/** Reads a mesh, works on it, writes it on request, and prints the report with the counts of the result. */
export async function runOnMesh(file: string, call: Call, act: (m: PolyMesh) => Made): Promise<void> {
  const { values, json, write } = call;
  checkEnding(values.out);
  const m = await load(file, write, json);
  const t0 = performance.now();
  const { mesh, told } = act(m);
  const ms = performance.now() - t0;
  if (values.out) await save(values.out, [{ name: path.parse(file).name, mesh }]);
  tell({ ms, ...told, ...surveyCounts(mesh) }, call);
}

/** A command that works on one mesh as a whole. */
export const onMesh = (
  says: string,
  options: OptionSpecs,
  act: (m: PolyMesh, values: Call['values'], on: Call['on']) => Made,
): Command => ({
  takes: 'IN',
  words: [1, 1],
  says,
  options: { ...options, ...OUT_OPTION, ...JSON_OPTION },
  run: (call) => runOnMesh(call.args[0]!, call, (m) => act(m, call.values, call.on)),
});
