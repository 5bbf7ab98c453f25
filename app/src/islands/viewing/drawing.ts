import type { Raster } from '@gemello/core';
import { type Conform, type Lay, type Part, snapped, wipeMask, wipePattern } from '@gemello/core/conform';
import { isNeutral, NEUTRAL_CDL } from '@gemello/core/grade';
import { COMPARE, MIX, PLACE, WHOLE_FRAME } from './shaders';

/** A picture as the page has it decoded. */
export type Decoded = VideoFrame | ImageBitmap;

/** What the screen shows, in the order in which the shader knows it. */
export const SHOWS = ['facing', 'split', 'difference', 'blend', 'reference', 'conform', 'checker'] as const;
export type Shows = (typeof SHOWS)[number];

/** How both sides are held against each other. Shares of the width and height; `angle` of the split line in degrees. */
export interface Comparing {
  readonly shows: Shows;
  readonly line: number;
  readonly angle: number;
  /** How many times a difference is strengthened. */
  readonly gain: number;
  /** How much of the reference is seen in a blend. */
  readonly blend: number;
  /** A tint on the reference, 0..1. */
  readonly tinted: number;
}

export type Side = 'reference' | 'conform';

/** One side's picture: parts with what each shows, from the bottom up, or a whole picture made elsewhere. */
export type Content =
  | { readonly parts: readonly { readonly part: Part; readonly picture: Decoded | null }[]; readonly frame: Conform['frame'] }
  | { readonly whole: ImageBitmap }
  | null;

export interface Drawing {
  /** Puts a side together; null leaves it black. */
  compose(side: Side, content: Content): void;
  /** Shows both sides as they were put together last. */
  present(comparing: Comparing): void;
  /** A side as it was put together: R, G, B, A, rows from the top. */
  read(side: Side): Uint8Array;
  /** Sets the size of one picture, in pixels. */
  resize(size: Raster): void;
  readonly size: Raster;
  /** Textures that are held now. */
  textures(): number;
}

/** Pixels between two pictures that face each other. */
const GAP = 8;
/** Of what a split line leans by a degree: its middle stays, its ends go this far at 45 degrees, as a share of the width. */
const LEAN = 0.28;
const TINT = [1, 0.86, 0.55] as const;

/** Draws with WebGL 2. Null where there is none: stills from the server stand in. */
export function openDrawing(canvas: OffscreenCanvas): Drawing | null {
  const gl = canvas.getContext('webgl2', { alpha: false, antialias: false, preserveDrawingBuffer: true });
  if (!gl) return null;
  const programs = { place: programOf(gl, PLACE), mix: programOf(gl, MIX), compare: programOf(gl, COMPARE) };
  let size: Raster = { width: 2, height: 2 };
  let held = 0;

  const texture = (smooth: boolean): WebGLTexture => {
    const made = gl.createTexture();
    held++;
    gl.bindTexture(gl.TEXTURE_2D, made);
    const how = smooth ? gl.LINEAR : gl.NEAREST;
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, how);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, how);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_S, gl.CLAMP_TO_EDGE);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_T, gl.CLAMP_TO_EDGE);
    return made;
  };
  const target = () => ({ texture: texture(true), buffer: gl.createFramebuffer() });
  const targets = { reference: target(), conform: target(), leaving: target(), incoming: target() };
  const [picture, mask] = [texture(true), texture(false)];

  const resize = (to: Raster) => {
    if (to.width === size.width && to.height === size.height) return;
    size = to;
    for (const { texture: one, buffer } of Object.values(targets)) {
      gl.bindTexture(gl.TEXTURE_2D, one);
      gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA8, size.width, size.height, 0, gl.RGBA, gl.UNSIGNED_BYTE, null);
      gl.bindFramebuffer(gl.FRAMEBUFFER, buffer);
      gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, one, 0);
    }
  };

  const onto = ({ buffer }: { buffer: WebGLFramebuffer }, clear: boolean) => {
    gl.bindFramebuffer(gl.FRAMEBUFFER, buffer);
    gl.viewport(0, 0, size.width, size.height);
    if (!clear) return;
    gl.clearColor(0, 0, 0, 0);
    gl.clear(gl.COLOR_BUFFER_BIT);
  };
  const begin = (program: Program) => {
    // biome-ignore lint/correctness/useHookAtTopLevel: WebGL calls it so; it is no hook
    gl.useProgram(program.program);
    return program.at;
  };
  const bind = (unit: number, one: WebGLTexture, place: WebGLUniformLocation | null) => {
    gl.activeTexture(gl.TEXTURE0 + unit);
    gl.bindTexture(gl.TEXTURE_2D, one);
    gl.uniform1i(place, unit);
  };
  /** Colours are multiplied by their alpha, as the compositor's are. */
  const over = () => {
    gl.enable(gl.BLEND);
    gl.blendFunc(gl.ONE, gl.ONE_MINUS_SRC_ALPHA);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
    gl.disable(gl.BLEND);
  };

  const upload = (decoded: Decoded) => {
    gl.activeTexture(gl.TEXTURE0);
    gl.bindTexture(gl.TEXTURE_2D, picture);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA8, gl.RGBA, gl.UNSIGNED_BYTE, decoded);
  };

  const place = (part: Part, decoded: Decoded | null, frame: Conform['frame']) => {
    const at = begin(programs.place);
    const { shot, pose } = part;
    gl.uniform1i(at('black'), decoded ? 0 : 1);
    gl.uniform1f(at('opacity'), pose.opacity);
    if (decoded) {
      upload(decoded);
      gl.uniform1i(at('picture'), 0);
      laid(at, snapped(part, frame, size), shot.original?.raster ?? frame.raster);
      const cdl = shot.cdl ?? NEUTRAL_CDL;
      gl.uniform1i(at('graded'), isNeutral(cdl) ? 0 : 1);
      gl.uniform3fv(at('slope'), cdl.slope);
      gl.uniform3fv(at('offset'), cdl.offset);
      gl.uniform3fv(at('power'), cdl.power);
      gl.uniform1f(at('saturation'), cdl.saturation);
    }
    over();
  };
  const laid = (at: Program['at'], { a, b, c, d, e, f, crop }: Lay, { width, height }: Raster) => {
    gl.uniform4f(at('turn'), a, b, c, d);
    gl.uniform2f(at('origin'), e, f);
    gl.uniform2f(at('size'), width, height);
    gl.uniform4f(at('crop'), crop.left, crop.top, crop.right, crop.bottom);
  };

  /** Both sides of a transition over what lies below. */
  const joined = (to: Side, leaving: Laid | null, incoming: Laid, frame: Conform['frame']) => {
    onto(targets.leaving, true);
    if (leaving) place(leaving.part, leaving.picture, frame);
    onto(targets.incoming, true);
    place(incoming.part, incoming.picture, frame);
    const { join, share } = incoming.part;
    const pattern = join && wipePattern(join);
    onto(targets[to], false);
    const at = begin(programs.mix);
    bind(1, targets.leaving.texture, at('leaving'));
    bind(2, targets.incoming.texture, at('incoming'));
    gl.uniform1i(at('masked'), pattern ? 1 : 0);
    gl.uniform1f(at('share'), share);
    bind(3, mask, at('mask'));
    if (join && pattern) {
      const { incoming: seen } = wipeMask(pattern, join.look, share, size.width, size.height);
      gl.texImage2D(gl.TEXTURE_2D, 0, gl.R32F, size.width, size.height, 0, gl.RED, gl.FLOAT, seen);
    }
    over();
  };

  return {
    compose(side, content) {
      onto(targets[side], true);
      if (!content) return;
      if ('whole' in content) {
        const at = begin(programs.place);
        upload(content.whole);
        gl.uniform1i(at('picture'), 0);
        gl.uniform1i(at('black'), 0);
        gl.uniform1i(at('graded'), 0);
        gl.uniform1f(at('opacity'), 1);
        laid(at, { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0, crop: { left: 0, top: 0, right: size.width, bottom: size.height } }, size);
        over();
        return;
      }
      const { parts, frame } = content;
      for (let i = 0; i < parts.length; i++) {
        const one = parts[i] as Laid;
        const next = parts[i + 1];
        const pair = one.part.side === 'leaving' && next?.part.join === one.part.join && next.part.layer === one.part.layer;
        if (one.part.side === 'alone') {
          onto(targets[side], false);
          place(one.part, one.picture, frame);
        } else joined(side, pair ? one : null, pair ? next : one, frame);
        if (pair) i++;
      }
    },
    present({ shows, line, angle, gain, blend, tinted }) {
      const width = shows === 'facing' ? size.width * 2 + GAP : size.width;
      if (canvas.width !== width || canvas.height !== size.height) [canvas.width, canvas.height] = [width, size.height];
      gl.bindFramebuffer(gl.FRAMEBUFFER, null);
      gl.viewport(0, 0, width, size.height);
      const at = begin(programs.compare);
      bind(1, targets.reference.texture, at('reference'));
      bind(2, targets.conform.texture, at('conform'));
      gl.uniform2f(at('screen'), width, size.height);
      gl.uniform2f(at('size'), size.width, size.height);
      gl.uniform1f(at('gap'), GAP);
      gl.uniform1i(at('mode'), SHOWS.indexOf(shows));
      gl.uniform1f(at('line'), line);
      gl.uniform1f(at('lean'), Math.tan((angle * Math.PI) / 180) * LEAN);
      gl.uniform1f(at('gain'), gain);
      gl.uniform1f(at('blend'), blend);
      gl.uniform3f(at('tint'), ...TINT);
      gl.uniform1f(at('tinted'), tinted);
      gl.drawArrays(gl.TRIANGLES, 0, 3);
    },
    read(side) {
      const pixels = new Uint8Array(size.width * size.height * 4);
      gl.bindFramebuffer(gl.FRAMEBUFFER, targets[side].buffer);
      gl.readPixels(0, 0, size.width, size.height, gl.RGBA, gl.UNSIGNED_BYTE, pixels);
      return pixels;
    },
    resize,
    get size() {
      return size;
    },
    textures: () => held,
  };
}

interface Laid {
  readonly part: Part;
  readonly picture: Decoded | null;
}

interface Program {
  readonly program: WebGLProgram;
  at(name: string): WebGLUniformLocation | null;
}

function programOf(gl: WebGL2RenderingContext, fragment: string): Program {
  const shader = (type: number, source: string) => {
    const made = gl.createShader(type);
    if (!made) throw new Error('the graphics context is lost');
    gl.shaderSource(made, source);
    gl.compileShader(made);
    if (!gl.getShaderParameter(made, gl.COMPILE_STATUS)) throw new Error(gl.getShaderInfoLog(made) ?? 'a shader does not compile');
    return made;
  };
  const program = gl.createProgram();
  gl.attachShader(program, shader(gl.VERTEX_SHADER, WHOLE_FRAME));
  gl.attachShader(program, shader(gl.FRAGMENT_SHADER, fragment));
  gl.linkProgram(program);
  if (!gl.getProgramParameter(program, gl.LINK_STATUS)) throw new Error(gl.getProgramInfoLog(program) ?? 'the shaders do not link');
  const places = new Map<string, WebGLUniformLocation | null>();
  return {
    program,
    at(name) {
      const known = places.get(name);
      if (known !== undefined) return known;
      const found = gl.getUniformLocation(program, name);
      places.set(name, found);
      return found;
    },
  };
}
