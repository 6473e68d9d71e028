import Dialog from 'primevue/dialog';
import InputText from 'primevue/inputtext';
import Select from 'primevue/select';
import ToggleSwitch from 'primevue/toggleswitch';
import { h, render, type App, type Component } from 'vue';

const USED: readonly Component[] = [Select, InputText, ToggleSwitch, Dialog];
/** Between two of them, ms, so that the first picture is not kept waiting. */
const PAUSE = 60;

/**
 * Makes the styles of components ahead, one at a time: each makes its own when first mounted, which took 40 ms in the
 * middle of an act.
 */
export function makeStylesAhead(app: App, which = USED): void {
  const [first, ...rest] = which;
  if (!first) return;
  const vnode = h(first);
  vnode.appContext = app._context;
  const place = document.createElement('div');
  render(vnode, place);
  render(null, place);
  setTimeout(() => makeStylesAhead(app, rest), PAUSE);
}
