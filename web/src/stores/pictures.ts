import { defineStore } from 'pinia';
import { shallowRef, watch } from 'vue';
import { addPicture, type PictureView } from '@dusky-mason/core/courses';
import { hashBytes, SaidError } from '@dusky-mason/core/mesh';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';
import { keepPicture, readPictureBytes } from './storage.ts';

/** Pictures that are read. */
export const PICTURE_ENDINGS = ['.png', '.jpg', '.jpeg', '.webp'] as const;
/** Larger ones are made smaller, pixels; larger files are not read, bytes. */
const LARGEST = 2048;
const MOST_BYTES = 40e6;
/** A picture is as wide as the part is across, or so wide where there is none, mm. */
const WIDTH = 200;

export const isPicture = (name: string): boolean => PICTURE_ENDINGS.some((e) => name.toLowerCase().endsWith(e));

/** The images of the project's reference pictures; they stay in this browser. */
export const usePictures = defineStore('pictures', () => {
  const store = useProject();
  const notices = useNotices();
  const images = shallowRef<ReadonlyMap<string, ImageBitmap>>(new Map());
  const asked = new Set<string>();

  function put(hash: string, image: ImageBitmap): void {
    images.value = new Map(images.value).set(hash, image);
  }

  watch(
    () => store.project?.pictures,
    async (pictures) => {
      for (const { hash, name } of pictures ?? []) {
        if (images.value.has(hash) || asked.has(hash)) continue;
        // Asked for once, so that a missing one is reported once.
        asked.add(hash);
        const bytes = await readPictureBytes(hash);
        if (!bytes)
          notices.say('warning', `The picture "${name}" is not in this browser. Open its file again to see it.`);
        else put(hash, await createImageBitmap(new Blob([bytes as BlobPart])));
      }
    },
    { immediate: true },
  );

  /** Pins a picture file behind a view of the project at hand. Throws with one sentence when it cannot be read. */
  async function pin(file: File, view: PictureView): Promise<void> {
    const project = store.project;
    if (!project) return;
    if (file.size > MOST_BYTES)
      throw new SaidError(`"${file.name}" is too large: at most ${MOST_BYTES / 1e6} MB are read.`);
    let image: ImageBitmap;
    try {
      image = await createImageBitmap(file);
    } catch {
      throw new SaidError(`"${file.name}" cannot be read as a picture. Known are ${PICTURE_ENDINGS.join(', ')}.`);
    }
    const k = Math.min(1, LARGEST / Math.max(image.width, image.height));
    const canvas = new OffscreenCanvas(
      Math.max(1, Math.round(image.width * k)),
      Math.max(1, Math.round(image.height * k)),
    );
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
    image.close();
    const bytes = new Uint8Array(await (await canvas.convertToBlob({ type: 'image/png' })).arrayBuffer());
    const hash = hashBytes(bytes);
    await keepPicture(hash, bytes);
    put(hash, await createImageBitmap(canvas));
    const box = store.outcome?.counts.bounds;
    const across = box ? Math.max(...box.max.map((x, i) => x - box.min[i]!)) : WIDTH;
    const name = file.name.replace(/\.[^.]*$/, '') || 'Picture';
    const next = addPicture(project, {
      name,
      hash,
      view,
      width: +(across || WIDTH).toPrecision(3),
      aspect: canvas.height / canvas.width,
    });
    store.change(`Pin ${name}`, next);
  }

  return { images, pin };
});
