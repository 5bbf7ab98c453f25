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

/** Lays a picture as \`Lay\` has it (core/conform), graded by a CDL (ASC CDL 1.2). */
export const PLACE = `#version 300 es
precision highp float;
uniform sampler2D picture;
uniform vec4 turn;      // a, b, c, d of the lay
uniform vec2 origin;    // e, f
uniform vec2 size;      // of the picture, in its own pixels
uniform vec4 crop;      // left, top, right, bottom, in its own pixels
uniform float opacity;
uniform bool black;
uniform bool graded;
uniform vec3 slope, offset, power;
uniform float saturation;
out vec4 colour;

/** The weights of four neighbours (Catmull-Rom, a = -1/2), as the compositor samples. */
vec4 cubic(float t) {
  float t2 = t * t, t3 = t2 * t;
  return vec4(-0.5 * t + t2 - 0.5 * t3, 1.0 - 2.5 * t2 + 1.5 * t3, 0.5 * t + 2.0 * t2 - 1.5 * t3, -0.5 * t2 + 0.5 * t3);
}
vec3 sampled(vec2 uv, mat2 back, vec2 scale) {
  vec2 texels = vec2(textureSize(picture, 0));
  // Pixels of the canvas to those of what was decoded, which may be smaller than the picture is.
  vec2 fine = scale * size / texels;
  if (min(fine.x, fine.y) < 0.999) {
    // Seen smaller than it was decoded: the mean of what a pixel covers.
    int many = int(clamp(ceil(1.0 / min(fine.x, fine.y)) * 2.0, 2.0, 8.0));
    vec3 sum = vec3(0.0);
    for (int j = 0; j < many; j++)
      for (int i = 0; i < many; i++)
        sum += texture(picture, (uv + back * ((vec2(i, j) + 0.5) / float(many) - 0.5)) / size).rgb;
    return sum / float(many * many);
  }
  vec2 at = uv / size * texels - 0.5;
  vec2 base = floor(at + 0.001);
  if (max(at.x - base.x, at.y - base.y) < 0.002) return texelFetch(picture, ivec2(clamp(base, vec2(0.0), texels - 1.0)), 0).rgb;
  vec4 wx = cubic(at.x - base.x), wy = cubic(at.y - base.y);
  vec3 sum = vec3(0.0);
  for (int j = 0; j < 4; j++)
    for (int i = 0; i < 4; i++) {
      ivec2 texel = ivec2(clamp(base + vec2(i - 1, j - 1), vec2(0.0), texels - 1.0));
      sum += texelFetch(picture, texel, 0).rgb * wx[i] * wy[j];
    }
  return clamp(sum, 0.0, 1.0);
}

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
  vec3 c = sampled(uv, back, scale);
  if (graded) {
    c = pow(clamp(c * slope + offset, 0.0, 1.0), power);
    float luma = dot(c, vec3(0.2126, 0.7152, 0.0722));
    c = clamp(luma + saturation * (c - luma), 0.0, 1.0);
  }
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

/** What the screen shows of both sides. */
export const COMPARE = `#version 300 es
precision highp float;
uniform sampler2D reference, conform;
uniform vec2 screen;    // pixels of the canvas
uniform vec2 size;      // pixels of one picture
uniform float gap;      // between two that face each other, in pixels
uniform int mode;       // as in SHOWS (drawing.ts)
uniform float line, lean, gain, blend;
uniform vec3 tint;
uniform float tinted;
out vec4 colour;
vec3 ofReference(vec2 uv) { vec3 c = texture(reference, uv).rgb; return mix(c, c * tint, tinted); }
vec3 ofConform(vec2 uv) { return texture(conform, uv).rgb; }
void main() {
  vec2 at = vec2(gl_FragCoord.x, screen.y - gl_FragCoord.y);
  vec2 uv = at / size;
  vec3 c;
  if (mode == 0) {
    float right = size.x + gap;
    if (at.x < size.x) c = ofReference(uv);
    else if (at.x >= right) c = ofConform((at - vec2(right, 0.0)) / size);
    else { colour = vec4(0.0); return; }
  }
  else if (mode == 1) c = uv.x < line + lean * (1.0 - 2.0 * uv.y) ? ofReference(uv) : ofConform(uv);
  else if (mode == 2) c = abs(texture(reference, uv).rgb - ofConform(uv)) * gain;
  else if (mode == 3) c = mix(ofConform(uv), ofReference(uv), blend);
  else if (mode == 4) c = ofReference(uv);
  else if (mode == 5) c = ofConform(uv);
  else {
    vec2 cell = floor(uv * vec2(8.0, 4.5));
    c = mod(cell.x + cell.y, 2.0) < 1.0 ? ofReference(uv) : ofConform(uv);
  }
  colour = vec4(c, 1.0);
}`;
