import type { LutBetween } from '@gemello/core';

/**
 * Shaders of the viewer (GLSL ES 3.00). Pictures that are put together have their upper row first, so that what is read back of
 * them is in the order of a picture file; the last one turns it over for the screen.
 */

export const WHOLE_FRAME = `#version 300 es
void main() {
  // One triangle that covers the frame.
  vec2 corner = vec2(float((gl_VertexID << 1) & 2), float(gl_VertexID & 2));
  gl_Position = vec4(corner * 2.0 - 1.0, 0.0, 1.0);
}`;

const SAMPLED = {
  exact: `vec3 sampled(vec2 uv, mat2 back) {
  return texelFetch(picture, ivec2(clamp(floor(uv / size * vec2(textureSize(picture, 0))), vec2(0.0), vec2(textureSize(picture, 0)) - 1.0)), 0).rgb;
}`,
  // One look between four pixels: for what moves, and until it stands still.
  rough: 'vec3 sampled(vec2 uv, mat2 back) { return texture(picture, uv / size).rgb; }',
  // Each look is itself the mean of four pixels.
  mean: `vec3 sampled(vec2 uv, mat2 back) {
  const int many = MANY;
  vec3 sum = vec3(0.0);
  for (int j = 0; j < many; j++)
    for (int i = 0; i < many; i++)
      sum += texture(picture, (uv + back * ((vec2(i, j) + 0.5) / float(many) - 0.5)) / size).rgb;
  return sum / float(many * many);
}`,
  between: `/** The weights of four neighbours (Catmull-Rom, a = -1/2), as the compositor samples. */
vec4 cubic(float t) {
  float t2 = t * t, t3 = t2 * t;
  return vec4(-0.5 * t + t2 - 0.5 * t3, 1.0 - 2.5 * t2 + 1.5 * t3, 0.5 * t + 2.0 * t2 - 1.5 * t3, -0.5 * t2 + 0.5 * t3);
}
vec3 sampled(vec2 uv, mat2 back) {
  vec2 texels = vec2(textureSize(picture, 0));
  vec2 at = uv / size * texels - 0.5;
  vec2 base = floor(at);
  vec4 wx = cubic(at.x - base.x), wy = cubic(at.y - base.y);
  vec3 sum = vec3(0.0);
  for (int j = 0; j < 4; j++)
    for (int i = 0; i < 4; i++) {
      ivec2 texel = ivec2(clamp(base + vec2(i - 1, j - 1), vec2(0.0), texels - 1.0));
      sum += texelFetch(picture, texel, 0).rgb * wx[i] * wy[j];
    }
  return clamp(sum, 0.0, 1.0);
}`,
} as const;

/** A step that colours go through: a CDL (ASC CDL 1.2), or a look-up table: a curve, or a lattice looked up in one way or the other. */
export type Step = 'cdl' | 'curve' | LutBetween;

const UNIFORMS = {
  cdl: (i: number) => `uniform vec3 slope${i}, offset${i}, power${i};
uniform float saturation${i};`,
  table: (i: number) => `uniform highp sampler2D table${i};
uniform int size${i};
uniform vec3 low${i}, high${i};`,
};
const STEPS: Record<Step, (i: number) => string> = {
  cdl: (i) => `c = pow(clamp(c * slope${i} + offset${i}, 0.0, 1.0), power${i});
  c = saturated(c, saturation${i});`,
  curve: (i) => `c = curve(table${i}, size${i}, c, low${i}, high${i});`,
  tetrahedral: (i) => `c = tetrahedral(table${i}, size${i}, c, low${i}, high${i});`,
  trilinear: (i) => `c = trilinear(table${i}, size${i}, c, low${i}, high${i});`,
};
const SATURATED = `vec3 saturated(vec3 c, float much) {
  float luma = dot(c, vec3(0.2126, 0.7152, 0.0722));
  return clamp(luma + much * (c - luma), 0.0, 1.0);
}`;
/** As core/grade looks up. */
const LOOKED_UP = `vec3 entry(highp sampler2D table, int i) {
  int width = textureSize(table, 0).x;
  return texelFetch(table, ivec2(i % width, i / width), 0).rgb;
}
vec3 curve(highp sampler2D table, int size, vec3 c, vec3 low, vec3 high) {
  vec3 at = clamp((c - low) / (high - low), 0.0, 1.0) * float(size - 1);
  vec3 base = min(floor(at), float(size - 2));
  ivec3 i = ivec3(base);
  vec3 from = vec3(entry(table, i.r).r, entry(table, i.g).g, entry(table, i.b).b);
  vec3 to = vec3(entry(table, i.r + 1).r, entry(table, i.g + 1).g, entry(table, i.b + 1).b);
  return clamp(mix(from, to, at - base), 0.0, 1.0);
}
vec3 tetrahedral(highp sampler2D table, int size, vec3 c, vec3 low, vec3 high) {
  vec3 at = clamp((c - low) / (high - low), 0.0, 1.0) * float(size - 1);
  vec3 base = min(floor(at), float(size - 2));
  vec3 f = at - base;
  int steps[3] = int[3](1, size, size * size);
  int corner = int(base.r) + size * (int(base.g) + size * int(base.b));
  int most = f.r >= f.g ? (f.r >= f.b ? 0 : 2) : (f.g >= f.b ? 1 : 2);
  int least = f.b <= f.r && f.b <= f.g ? 2 : (f.g <= f.r ? 1 : 0);
  if (most == least) { most = 0; least = 2; }
  int middle = 3 - most - least;
  vec3 sum = entry(table, corner) * (1.0 - f[most]);
  corner += steps[most];
  sum += entry(table, corner) * (f[most] - f[middle]);
  corner += steps[middle];
  sum += entry(table, corner) * (f[middle] - f[least]);
  corner += steps[least];
  return clamp(sum + entry(table, corner) * f[least], 0.0, 1.0);
}
vec3 trilinear(highp sampler2D table, int size, vec3 c, vec3 low, vec3 high) {
  vec3 at = clamp((c - low) / (high - low), 0.0, 1.0) * float(size - 1);
  vec3 base = min(floor(at), float(size - 2));
  vec3 f = at - base;
  int corner = int(base.r) + size * (int(base.g) + size * int(base.b));
  vec3 sum = vec3(0.0);
  for (int i = 0; i < 8; i++) {
    ivec3 along = ivec3(i & 1, (i >> 1) & 1, i >> 2);
    vec3 share = mix(1.0 - f, f, vec3(along));
    sum += share.r * share.g * share.b * entry(table, corner + along.r + size * (along.g + size * along.b));
  }
  return clamp(sum, 0.0, 1.0);
}`;

/**
 * How a picture is sampled: pixel for pixel; roughly; as the mean of what a pixel covers, so many looks across; between its pixels. A shader is
 * made for each: one that could do all of them takes several times as long in software, which goes through every branch.
 */
export type Sampling = 'exact' | 'rough' | 'between' | 1 | 2 | 3 | 4 | 5 | 6;

/** Lays a picture as `Lay` has it (core/conform), its colours taken through steps one after the other. */
export const placeShader = (sampling: Sampling, steps: readonly Step[]): string => `#version 300 es
precision highp float;
uniform sampler2D picture;
uniform vec4 turn;      // a, b, c, d of the lay
uniform vec2 origin;    // e, f
uniform vec2 size;      // of the picture, in its own pixels
uniform vec4 crop;      // left, top, right, bottom, in its own pixels
uniform float opacity;
uniform bool black;
${steps.map((step, i) => UNIFORMS[step === 'cdl' ? 'cdl' : 'table'](i)).join('\n')}
out vec4 colour;

${steps.includes('cdl') ? SATURATED : ''}
${steps.some((step) => step !== 'cdl') ? LOOKED_UP : ''}
${SAMPLED[typeof sampling === 'number' ? 'mean' : sampling].replace('MANY', String(sampling))}
void main() {
  if (black) { colour = vec4(0.0, 0.0, 0.0, opacity); return; }
  vec2 at = gl_FragCoord.xy - origin;
  float whole = turn.x * turn.w - turn.y * turn.z;
  mat2 back = mat2(turn.w, -turn.y, -turn.z, turn.x) / whole;
  vec2 uv = back * at;
  // Pixels of the canvas that a pixel of the picture takes, across and down: edges are as soft as one of the canvas.
  vec2 scale = vec2(length(turn.xy), length(turn.zw));
  vec4 inside = clamp(vec4(uv - crop.xy, crop.zw - uv) * scale.xyxy + 0.5, 0.0, 1.0);
  float seen = inside.x * inside.y * inside.z * inside.w * opacity;
  if (seen == 0.0) { colour = vec4(0.0); return; }
  vec3 c = sampled(uv, back);
  ${steps.map((step, i) => STEPS[step](i)).join('\n  ')}
  colour = vec4(c * seen, seen);
}`;

/** Both sides of a transition: mixed by a share, or pixel by pixel. */
export const MIX = `#version 300 es
precision highp float;
uniform sampler2D leaving, incoming, mask;
uniform bool masked;
uniform float share;
out vec4 colour;
void main() {
  ivec2 at = ivec2(gl_FragCoord.xy);
  float take = masked ? texelFetch(mask, at, 0).r : share;
  colour = texelFetch(leaving, at, 0) * (1.0 - take) + texelFetch(incoming, at, 0) * take;
}`;

/** What the screen shows of both sides, in one way; `plain` where nothing is enlarged, tinted or left out. */
export const compareShader = (shows: keyof typeof WAYS, plain: boolean): string => `#version 300 es
precision highp float;
uniform sampler2D a, b;
uniform vec2 screen;    // pixels of the canvas
uniform vec2 size;      // pixels of one picture
uniform float from;     // column of the canvas at which the picture begins
uniform int channel;    // as in CHANNELS (drawing.ts)
uniform float line, gain, blend;
uniform vec2 across;    // at right angles to the line of a split, towards B
uniform vec3 zoom;      // times, and the point in the middle
uniform vec3 tint;
uniform vec2 tinted;
out vec4 colour;
${plain ? PLAIN : ALTERED}
vec3 ofA(vec2 uv) { return of(a, uv, tinted.x); }
vec3 ofB(vec2 uv) { return of(b, uv, tinted.y); }
void main() {
  vec2 at = vec2(gl_FragCoord.x - from, screen.y - gl_FragCoord.y);
  vec2 uv = at / size;
  vec3 c;
  ${WAYS[shows]}
  colour = vec4(c, 1.0);
}`;

const PLAIN = 'vec3 of(sampler2D side, vec2 uv, float much) { return texture(side, uv).rgb; }';
const ALTERED = `vec3 of(sampler2D side, vec2 uv, float much) {
  vec2 at = (uv - 0.5) / zoom.x + zoom.yz;
  vec2 texel = at * size;
  // Enlarged, each pixel is seen as it is; past the edge there is nothing.
  vec3 c = zoom.x > 1.0 ? texelFetch(side, ivec2(clamp(texel, vec2(0.0), size - 1.0)), 0).rgb : texture(side, at).rgb;
  if (any(lessThan(at, vec2(0.0))) || any(greaterThan(at, vec2(1.0)))) c = vec3(0.0);
  if (channel == 4) c = vec3(dot(c, vec3(0.2126, 0.7152, 0.0722)));
  else if (channel > 0) c = vec3(c[channel - 1]);
  return mix(c, c * tint, much);
}`;

/** Of two that face each other each is drawn where it belongs, as if it were alone (drawing.ts). */
const WAYS = {
  a: 'c = ofA(uv);',
  b: 'c = ofB(uv);',
  split: 'c = dot(at - vec2(line, 0.5) * size, across) < 0.0 ? ofA(uv) : ofB(uv);',
  difference: 'c = abs(of(a, uv, 0.0) - of(b, uv, 0.0)) * gain;',
  blend: 'c = mix(ofB(uv), ofA(uv), blend);',
  checker: 'vec2 cell = floor(uv * vec2(8.0, 4.5)); c = mod(cell.x + cell.y, 2.0) < 1.0 ? ofA(uv) : ofB(uv);',
} as const;
