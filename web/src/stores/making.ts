import { addMade, fitsRack, partOf, type Part, type Shape } from '@dusky-mason/core/courses';
import { engine, sideEngine } from '../engine/engine.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';
import { useRack } from './rack.ts';

/**
 * What is made of parts in the workshop and kept: joined parts, loose pieces, cutters for the rack. Failures are shown.
 */
export function useMaking() {
  const store = useProject();
  const notices = useNotices();
  const rack = useRack();

  async function keep(hash: string, title: string): Promise<Shape> {
    await store.loadMesh(hash);
    return { kind: 'mesh', hash, title, closed: false, turned: false };
  }

  const reporting = async (job: () => Promise<void>): Promise<void> => {
    try {
      await job();
    } catch (e) {
      notices.fail(e);
    }
  };

  /** One part of the given ones, which are kept, hidden. */
  const join = (parts: readonly Part[]): Promise<void> =>
    reporting(async () => {
      const name = parts.map((p) => p.name).join(' + ');
      const { hash } = await engine().ask({ kind: 'join', parts: [...parts] });
      const shape = await keep(hash, name);
      const p = store.project!;
      store.change(
        `Join ${name}`,
        addMade(
          p,
          parts[0]!.id,
          [{ name, shape }],
          parts.map((x) => x.id),
        ),
      );
      store.select({ part: p.nextId + 1 });
    });

  /** A part of each loose piece; the part itself is kept, hidden. */
  const separate = (part: Part): Promise<void> =>
    reporting(async () => {
      const { hashes } = await engine().ask({ kind: 'pieces', part });
      if (hashes.length < 2)
        return void notices.say('said', `${part.name} is one piece: there is nothing to separate.`);
      const made = [];
      for (const [i, hash] of hashes.entries()) {
        const name = `${part.name}, piece ${i + 1}`;
        made.push({ name, shape: await keep(hash, name) });
      }
      const p = store.project!;
      store.change(`Separate ${part.name}`, addMade(p, part.id, made, [part.id]));
      store.select({ part: p.nextId + 1 });
      notices.say('said', `${part.name} became ${made.length} parts. It is kept, hidden.`);
    });

  /** Puts a shape on the rack; for a mesh or a part its present result. */
  const shapeToRack = (name: string, shape: Shape): Promise<void> =>
    reporting(async () => {
      if (fitsRack(shape)) await rack.put({ name, shape });
      else {
        const linked = shape.kind === 'part' ? store.project?.parts.find((p) => p.id === shape.part) : undefined;
        await meshToRack(name, linked ?? partOf(1, name, { name, shape, slot: 'Body' }));
      }
      notices.say('said', `"${name}" is on the rack, for every project in this browser.`);
    });

  /** Puts a part's result on the rack. */
  const partToRack = (part: Part): Promise<void> =>
    reporting(async () => {
      await meshToRack(part.name, part);
      notices.say('said', `"${part.name}" is on the rack, for every project in this browser.`);
    });

  async function meshToRack(name: string, part: Part): Promise<void> {
    const { hash, bytes, picture } = await sideEngine().ask({ kind: 'keep', part });
    await rack.put({ name, shape: { kind: 'mesh', hash, title: name, closed: false, turned: false }, bytes, picture });
  }

  return { join, separate, shapeToRack, partToRack };
}
