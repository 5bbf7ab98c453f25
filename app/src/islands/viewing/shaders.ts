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
void main() {
  if (black) { colour = vec4(0.0, 0.0, 0.0, opacity); return; }
  vec2 at = gl_FragCoord.xy - origin;
  float whole = turn.x * turn.w - turn.y * turn.z;
  vec2 uv = vec2(turn.w * at.x - turn.z * at.y, turn.x * at.y - turn.y * at.x) / whole;
  if (uv.x < crop.x || uv.y < crop.y || uv.x > crop.z || uv.y > crop.w) { colour = vec4(0.0); return; }
  vec3 c = texture(picture, uv / size).rgb;
  if (graded) {
    c = pow(clamp(c * slope + offset, 0.0, 1.0), power);
    float luma = dot(c, vec3(0.2126, 0.7152, 0.0722));
    c = clamp(luma + saturation * (c - luma), 0.0, 1.0);
  }
  colour = vec4(c * opacity, opacity);
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
uniform int mode;       // as in MODES
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
