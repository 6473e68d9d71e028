/**
 * Whether a graphics card draws on a canvas, as far as the browser shows: software renderers say so in their names. It
 * takes a context of its own; undefined where there is none.
 */
export function drawnByCard(canvas: HTMLCanvasElement | OffscreenCanvas): boolean | undefined {
  const gl = canvas.getContext('webgl2') as WebGL2RenderingContext | null;
  if (!gl) return undefined;
  const names = gl.getExtension('WEBGL_debug_renderer_info');
  const name = names ? String(gl.getParameter(names.UNMASKED_RENDERER_WEBGL)) : '';
  gl.getExtension('WEBGL_lose_context')?.loseContext();
  return !/swiftshader|llvmpipe|softpipe|software|basic render/i.test(name);
}
