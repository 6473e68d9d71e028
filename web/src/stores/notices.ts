import { defineStore } from 'pinia';
import { sentenceOf } from '@dusky-mason/core/mesh';
import { ref } from 'vue';

export interface Notice {
  id: number;
  kind: 'said' | 'warning' | 'problem';
  text: string;
  /** One act that may follow, such as taking a deletion back. */
  act?: { title: string; run: () => void };
}

/** How long a notice stands when nothing has to be done about it, ms. */
const STANDS = 9000;

/** Short messages at the edge of the page; problems stay until they are put away. */
export const useNotices = defineStore('notices', () => {
  const list = ref<Notice[]>([]);
  let next = 1;

  function close(id: number): void {
    list.value = list.value.filter((n) => n.id !== id);
  }

  function say(kind: Notice['kind'], text: string, act?: Notice['act']): void {
    const id = next++;
    list.value = [...list.value.filter((n) => n.text !== text), { id, kind, text, act }].slice(-4);
    if (kind !== 'problem') setTimeout(() => close(id), STANDS);
  }

  /** Shows the sentence of any error. */
  const fail = (e: unknown): void => say('problem', sentenceOf(e));

  return { list, say, fail, close };
});
