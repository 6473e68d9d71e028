let card: boolean | undefined;

/** Whether a graphics card draws, as far as the browser tells: what draws without one says so in its name. Asked once: it takes a context of its own. */
export const hasCard = (): boolean => (card ??= findCard());

function findCard(): boolean {
  const gl = document.createElement('canvas').getContext('webgl2');
  const names = gl?.getExtension('WEBGL_debug_renderer_info');
  const name = gl && names ? String(gl.getParameter(names.UNMASKED_RENDERER_WEBGL)) : '';
  gl?.getExtension('WEBGL_lose_context')?.loseContext();
  return !/swiftshader|llvmpipe|softpipe|software|basic render/i.test(name);
}
