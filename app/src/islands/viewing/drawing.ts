import type { Cdl, LutBetween, Raster } from '@gemello/core';
import { type Conform, inOrderDrawn, type Lay, type Part, type Shot, snapped, wipeMask, wipePattern } from '@gemello/core/conform';
import { isNeutral, type Lut } from '@gemello/core/grade';
import { LRUCache } from 'lru-cache';
import { compareShader, MIX, placeShader, type Sampling, type Step, WHOLE_FRAME } from './shaders';
import type { Tables } from './tables';

/** A picture as the page has it decoded. */
export type Decoded = VideoFrame | ImageBitmap;

/** What the screen shows of both sides. */
export type Shows = 'facing' | 'split' | 'difference' | 'blend' | 'a' | 'b' | 'checker';

/** What is seen of the colours, in the order in which the shader knows it. */
export const CHANNELS = ['colour', 'red', 'green', 'blue', 'luma'] as const;
export type Channel = (typeof CHANNELS)[number];

/** How both sides are held against each other. Shares of the width and height, from the upper left. */
export interface Comparing {
  readonly shows: Shows;
  /** Where the line of a split crosses the middle row. */
  readonly line: number;
  /** How far the line is turned, in degrees, clockwise: 0 upright with A on the left, 90 level with A above. */
  readonly angle: number;
  /** How many times a difference is strengthened. */
  readonly gain: number;
  /** How much of A is seen in a blend. */
  readonly blend: number;
  /** A tint on each side, 0..1. */
  readonly tinted: Readonly<Record<Side, number>>;
  readonly channel: Channel;
  /** How many times enlarged, and the point in the middle. */
  readonly zoom: { readonly times: number; readonly x: number; readonly y: number };
  /** Pixels of the screen that one picture has across: no more are drawn. */
  readonly across: number;
}

export const SIDES = ['a', 'b'] as const;
export type Side = (typeof SIDES)[number];

/** One side's picture: parts with what each shows, from the bottom up, or a whole picture made elsewhere. */
export type Content =
  | { readonly parts: readonly Laid[]; readonly frame: Conform['frame'] }
  | { readonly whole: ImageBitmap }
  /** Nothing can be seen, and that is why. */
  | { readonly why: string }
  | null;

/** The look-up tables that a part is drawn through, by path. */
export const tablesOf = ({ shot }: Part): string[] => [shot.lut, shot.viewing?.lut].flatMap((lut) => lut?.file ?? []);

/** Look-up tables that are held ready to be looked up in. */
const TABLES = 8;
/** A texture unit that nothing is drawn from while a texture is made. */
const SPARE = 7;
/** Entries of a table that lie in one row of its texture. */
const TABLE_WIDTH = 4096;

export interface Drawing {
  /** Puts a side together; null leaves it black. `roughly`: frames that were decoded are sampled as fast as can be, not as well. */
  compose(side: Side, content: Content, roughly: boolean): void;
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

/** Between two pictures that face each other, as a share of the width of one. */
export const GAP = 1 / 120;
/** What a tinted picture is multiplied by where the tint is full. */
export const TINT = [1, 0.86, 0.55] as const;

/** Draws with WebGL 2. Null where there is none: a plain canvas stands in (plain.ts). */
export function openDrawing(canvas: OffscreenCanvas, tables: Tables): Drawing | null {
  const gl = canvas.getContext('webgl2', { alpha: false, antialias: false, preserveDrawingBuffer: true });
  if (!gl) return null;
  const mixing = programOf(gl, MIX);
  const programs = new Map<string, Program>();
  /** A program, made when it is first needed. */
  const program = (name: string, fragment: () => string): Program => {
    const known = programs.get(name) ?? programOf(gl, fragment());
    programs.set(name, known);
    return known;
  };
  const placing = (sampling: Sampling, steps: readonly Step[]) => program(`place ${sampling} ${steps}`, () => placeShader(sampling, steps));
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
  const targets = { a: target(), b: target(), leaving: target(), incoming: target() };
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
  const begin = (one: Program) => {
    // biome-ignore lint/correctness/useHookAtTopLevel: WebGL calls it so; it is no hook
    gl.useProgram(one.program);
    return one.at;
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

  const looked = new LRUCache<Lut, WebGLTexture>({
    max: TABLES,
    dispose(one) {
      gl.deleteTexture(one);
      held--;
    },
  });
  const tableOf = (lut: Lut): WebGLTexture => {
    const known = looked.get(lut);
    if (known) return known;
    gl.activeTexture(gl.TEXTURE0 + SPARE);
    const made = texture(false);
    const entries = lut.table.length / 3;
    const width = Math.min(TABLE_WIDTH, entries);
    const height = Math.ceil(entries / width);
    const filled = new Float32Array(width * height * 3);
    filled.set(lut.table);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGB32F, width, height, 0, gl.RGB, gl.FLOAT, filled);
    looked.set(lut, made);
    return made;
  };
  const coloured = (at: Program['at'], i: number, step: ColourStep) => {
    if ('slope' in step) {
      gl.uniform3fv(at(`slope${i}`), step.slope);
      gl.uniform3fv(at(`offset${i}`), step.offset);
      gl.uniform3fv(at(`power${i}`), step.power);
      gl.uniform1f(at(`saturation${i}`), step.saturation);
      return;
    }
    bind(1 + i, tableOf(step.lut), at(`table${i}`));
    gl.uniform1i(at(`size${i}`), step.lut.size);
    gl.uniform3fv(at(`low${i}`), step.lut.domainMin);
    gl.uniform3fv(at(`high${i}`), step.lut.domainMax);
  };

  const place = (part: Part, decoded: Decoded | null, frame: Conform['frame'], roughly: boolean) => {
    const { shot, pose } = part;
    const steps = decoded ? stepsOf(shot, tables) : [];
    const raster = shot.original?.raster ?? frame.raster;
    const lay = snapped(part, frame, size);
    const at = begin(placing(decoded ? samplingOf(lay, raster, decoded, roughly) : 'exact', steps.map(kindOf)));
    gl.uniform1i(at('black'), decoded ? 0 : 1);
    gl.uniform1f(at('opacity'), pose.opacity);
    if (decoded) {
      upload(decoded);
      gl.uniform1i(at('picture'), 0);
      laid(at, lay, raster);
      steps.forEach((step, i) => {
        coloured(at, i, step);
      });
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
  const joined = (to: Side, leaving: Laid | null, incoming: Laid, frame: Conform['frame'], roughly: boolean) => {
    onto(targets.leaving, true);
    if (leaving) place(leaving.part, leaving.picture, frame, roughly);
    onto(targets.incoming, true);
    place(incoming.part, incoming.picture, frame, roughly);
    const { join, share } = incoming.part;
    const pattern = join && wipePattern(join);
    onto(targets[to], false);
    const at = begin(mixing);
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

  /** A side as it is onto the screen, turned over, from a column on. */
  const copied = (side: Side, from: number) => {
    gl.bindFramebuffer(gl.READ_FRAMEBUFFER, targets[side].buffer);
    gl.bindFramebuffer(gl.DRAW_FRAMEBUFFER, null);
    const { width, height } = size;
    gl.blitFramebuffer(0, 0, width, height, from, height, from + width, 0, gl.COLOR_BUFFER_BIT, gl.NEAREST);
  };

  return {
    compose(side, content, roughly) {
      onto(targets[side], true);
      if (!content || 'why' in content) return;
      if ('whole' in content) {
        const lay = { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0, crop: { left: 0, top: 0, right: size.width, bottom: size.height } };
        const at = begin(placing(samplingOf(lay, size, content.whole, false), []));
        upload(content.whole);
        gl.uniform1i(at('picture'), 0);
        gl.uniform1i(at('black'), 0);
        gl.uniform1f(at('opacity'), 1);
        laid(at, lay, size);
        over();
        return;
      }
      const { parts, frame } = content;
      for (const one of inOrderDrawn(parts, (p) => p.part)) {
        if ('alone' in one) {
          onto(targets[side], false);
          place(one.alone.part, one.alone.picture, frame, roughly);
        } else joined(side, one.leaving, one.incoming, frame, roughly);
      }
    },
    present({ shows, line, angle, gain, blend, tinted, channel, zoom }) {
      const gap = Math.round(size.width * GAP);
      const width = shows === 'facing' ? size.width * 2 + gap : size.width;
      if (canvas.width !== width || canvas.height !== size.height) [canvas.width, canvas.height] = [width, size.height];
      gl.bindFramebuffer(gl.FRAMEBUFFER, null);
      gl.viewport(0, 0, width, size.height);
      const plain = zoom.times === 1 && channel === 'colour' && tinted.a === 0 && tinted.b === 0;
      if (plain && (shows === 'facing' || shows === 'a' || shows === 'b')) {
        if (shows !== 'b') copied('a', 0);
        if (shows !== 'a') copied('b', shows === 'facing' ? size.width + gap : 0);
        return;
      }
      const show = (one: Exclude<Shows, 'facing'>, from: number) => {
        gl.viewport(from, 0, size.width, size.height);
        const at = begin(program(`compare ${one} ${plain}`, () => compareShader(one, plain)));
        bind(1, targets.a.texture, at('a'));
        bind(2, targets.b.texture, at('b'));
        gl.uniform2f(at('screen'), width, size.height);
        gl.uniform2f(at('size'), size.width, size.height);
        gl.uniform1f(at('from'), from);
        gl.uniform1i(at('channel'), CHANNELS.indexOf(channel));
        gl.uniform1f(at('line'), line);
        const turned = (angle * Math.PI) / 180;
        gl.uniform2f(at('across'), Math.cos(turned), Math.sin(turned));
        gl.uniform1f(at('gain'), gain);
        gl.uniform1f(at('blend'), blend);
        gl.uniform3f(at('zoom'), zoom.times, zoom.x, zoom.y);
        gl.uniform3f(at('tint'), ...TINT);
        gl.uniform2f(at('tinted'), tinted.a, tinted.b);
        gl.drawArrays(gl.TRIANGLES, 0, 3);
      };
      if (shows === 'facing') {
        show('a', 0);
        show('b', size.width + gap);
      } else show(shows, 0);
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

/** Wider or narrower by less than this share counts as pixel for pixel. */
const NEARLY = 0.001;

type Turned = Pick<Lay, 'a' | 'b' | 'c' | 'd' | 'e' | 'f'>;

/** Pixels of a picture as it is decoded, across and down. */
export const sizeOf = (decoded: Decoded): readonly [number, number] =>
  'displayWidth' in decoded ? [decoded.displayWidth, decoded.displayHeight] : [decoded.width, decoded.height];

/** Pixels of the canvas that one decoded pixel of a picture takes, across and down. */
export function scalesOf(lay: Turned, picture: Raster, decoded: Decoded): readonly [number, number] {
  const [width, height] = sizeOf(decoded);
  return [(Math.hypot(lay.a, lay.b) * picture.width) / width, (Math.hypot(lay.c, lay.d) * picture.height) / height];
}

/** How a picture that lies so is sampled: `decoded` may have fewer pixels than the picture it stands for. */
function samplingOf(lay: Turned, picture: Raster, decoded: Decoded, roughly: boolean): Sampling {
  const [across, down] = scalesOf(lay, picture, decoded);
  const finest = Math.min(across, down);
  // Less than half the pixels of a picture are too few for one look at each.
  if (roughly && finest >= 0.5 && 'displayWidth' in decoded && !isExact(lay, across, down)) return 'rough';
  if (finest < 1 - NEARLY) return Math.max(1, Math.min(6, Math.ceil(0.75 / finest))) as Sampling;
  return isExact(lay, across, down) ? 'exact' : 'between';
}

/** True where each pixel of a picture takes one of the canvas. */
function isExact({ b, c, e, f }: Pick<Lay, 'b' | 'c' | 'e' | 'f'>, across: number, down: number): boolean {
  const straight = b === 0 && c === 0 && Number.isInteger(e) && Number.isInteger(f);
  return straight && Math.abs(across - 1) < NEARLY && Math.abs(down - 1) < NEARLY;
}

/** A CDL, or a table with how it is looked up in. */
export type ColourStep = Cdl | { readonly lut: Lut; readonly between: LutBetween };

/** What is done to the colours of a shot, one after the other: its grade, and what it is looked at through. */
export const stepsOf = ({ cdl, lut, viewing }: Shot, tables: Tables): ColourStep[] =>
  [cdl, lut, viewing?.cdl, viewing?.lut].flatMap((one): ColourStep[] => {
    if (!one) return [];
    if ('slope' in one) return isNeutral(one) ? [] : [one];
    const held = tables.held(one.file);
    return held ? [{ lut: held, between: one.between }] : [];
  });

const kindOf = (step: ColourStep): Step => ('slope' in step ? 'cdl' : step.lut.dimensions === 1 ? 'curve' : step.between);

/** A part of a picture with what it shows. */
export interface Laid {
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
