/** What draws in software calls itself so (as of 2026; from memory). */
const IN_SOFTWARE = /software|swiftshader|llvmpipe|softpipe|basic render/i;

/** True where a graphics card draws, as far as the browser says; false where WebGL is drawn by the processor, or not at all. */
export function hasCard(): boolean {
  const gl = new OffscreenCanvas(1, 1).getContext('webgl2', { failIfMajorPerformanceCaveat: true });
  if (!gl) return false;
  const unmasked = gl.getExtension('WEBGL_debug_renderer_info');
  const names = [gl.RENDERER, ...(unmasked ? [unmasked.UNMASKED_RENDERER_WEBGL] : [])].map((one) => String(gl.getParameter(one)));
  gl.getExtension('WEBGL_lose_context')?.loseContext();
  return !names.some((name) => IN_SOFTWARE.test(name));
}
