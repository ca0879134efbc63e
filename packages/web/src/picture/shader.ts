import { PHOTOGRAPHIC_WHITE, TO_DISPLAY_P3 } from '@dusting/core/color';
import { RAMP_GLSL } from './ramp.ts';
import { RELATIVE_FLOOR } from './view.ts';

const P3 = [0, 1, 2].flatMap((column) => [0, 3, 6].map((row) => TO_DISPLAY_P3[row + column].toFixed(7)));

export const VERTEX = `#version 300 es
void main() {
  vec2 corner = vec2(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0);
  gl_Position = vec4(corner, 0.0, 1.0);
}`;

/** What changes seldom: each way of looking has a program of its own. */
export interface Looking {
  /** Place in MODES: 0 one, 1 wipe, 2 blink, 3 side by side, 4 difference. */
  mode: number;
  /** Place in DIFFERENCES: 0 signed, 1 absolute, 2 relative. */
  difference: number;
  /** Place in DISPLAY_TRANSFORMS: 0 sRGB, 1 Rec. 709, 2 Display P3, 3 photographic, 4 raw. */
  transform: number;
  /** There is a gamma over the transform. */
  curved: boolean;
  /** 0 colour, 1 R, 2 G, 3 B, 4 luminance, 5 alpha. */
  channel: number;
  /** One channel stands for all three. */
  single: boolean;
  /** Shown in false colour over a range. */
  data: boolean;
  marks: boolean;
  isolines: boolean;
  /** Pixels are so large that their edges are drawn. */
  grid: boolean;
}

// What moves while one looks is a uniform, and the pixels are uploaded once. The rest are constants: drawn in software,
// every branch costs its time whether it is taken or not (370 ms a frame with uniforms for all, 45 with constants). What is
// left chooses by mix() instead of by branches, and has no power: two thirds of the time that it took with them.
export const fragment = (looking: Looking) => `#version 300 es
precision highp float;
uniform sampler2D first, other;
uniform vec4 firstWindow, secondWindow; // x, y, width, height in frame pixels; width 0: none
uniform vec2 firstDetail, secondDetail; // pixels of the picture for one of the frame
uniform vec2 offset;                    // frame pixel at the canvas centre
uniform vec2 canvas;
uniform float scale;                    // canvas pixels for a frame pixel
uniform vec3 wipe;                      // direction across its line, distance of the line from the middle
uniform bool blink;                     // the second one is up
uniform float differenceGain;
uniform float gain;                     // exposure as a factor
uniform float curve;                    // 1 / gamma
uniform vec2 range;                     // of data layers
uniform int lod;                        // of the halved pictures: 0 whole, 1 half as large ...
uniform float shrink;                   // 1 / 2^lod
${Object.entries(looking)
  .map(([name, value]) => `const ${typeof value === 'number' ? 'int' : 'bool'} ${name} = ${value};`)
  .join('\n')}
out vec4 result;
const mat3 TO_P3 = mat3(${P3.join(', ')});
const vec3 LUMINANCE = vec3(0.2126, 0.7152, 0.0722);
const float RELATIVE_FLOOR = ${RELATIVE_FLOOR.toFixed(4)};
const vec4 WALL = vec4(0.169, 0.169, 0.169, 1.0);
const vec4 NOTHING = vec4(-1e30); // outside of a picture

// One pixel, or, where the picture is shown smaller than it is, the mean of about as many as fall on one of the canvas: the
// nearest level of the halved pictures. A loop over those pixels took twice as long a frame at 4K.
vec4 texel(sampler2D source, vec4 window, vec2 detail, vec2 inside) {
  vec2 last = max(floor(window.zw * detail * shrink), vec2(1.0)) - 1.0;
  return texelFetch(source, ivec2(clamp(inside * detail * shrink, vec2(0.0), last)), lod);
}
vec4 fetchPixel(sampler2D source, vec4 window, vec2 detail, vec2 at) {
  vec2 inside = at - window.xy;
  bool beyond = any(lessThan(inside, vec2(0.0))) || any(greaterThanEqual(inside, window.zw));
  return mix(texel(source, window, detail, inside), NOTHING, bvec4(beyond));
}
// sRGB of 0..1: its power by roots, with coefficients fitted to the least error, which is a tenth of a step of 8 bits
vec3 encode(vec3 c) {
  vec3 root = c * inversesqrt(max(c, vec3(1e-9)));
  vec3 high = 0.833769 * root + 0.298098 * root * inversesqrt(max(root, vec3(1e-9))) - 0.055326 * c - 0.076902;
  return mix(12.92 * c, high, greaterThan(c, vec3(0.0031308)));
}
// core/color/displayTransform.ts says where the curves come from
vec3 forDisplay(vec3 c) {
  if (transform == 3) {
    float y = dot(c, LUMINANCE);
    c *= y > 0.0 ? (1.0 + y / ${(PHOTOGRAPHIC_WHITE ** 2).toFixed(1)}) / (1.0 + y) : 0.0;
  }
  if (transform == 2) c = TO_P3 * c;
  c = clamp(c, 0.0, 1.0);
  if (transform == 1) c = pow(c, vec3(1.0 / 2.4));
  else if (transform != 4) c = encode(c);
  return curved ? pow(max(c, vec3(0.0)), vec3(curve)) : c;
}
${RAMP_GLSL}
vec4 show(vec4 pixel, vec2 screen) {
  vec3 c = pixel.rgb;
  if (data) return vec4(ramp((c.r - range.x) / (range.y - range.x)), 1.0);
  if (single) c = c.rrr;
  if (marks) {
    float stripe = step(0.5, fract((screen.x + screen.y) / 8.0));
    if (any(isnan(c))) return vec4(mix(vec3(0.8, 0.47, 0.65), vec3(0.0), stripe), 1.0);
    if (any(isinf(c))) return vec4(mix(vec3(0.9, 0.62, 0.0), vec3(0.0), stripe), 1.0);
    if (any(lessThan(c, vec3(0.0)))) return vec4(mix(vec3(0.34, 0.71, 0.91), vec3(0.0), stripe), 1.0);
    if (any(greaterThan(c * gain, vec3(1.0))) && stripe > 0.5) return vec4(0.84, 0.37, 0.0, 1.0);
  }
  c *= gain;
  if (channel == 1) c = c.rrr;
  if (channel == 2) c = c.ggg;
  if (channel == 3) c = c.bbb;
  if (channel == 4) c = vec3(dot(c, LUMINANCE));
  if (channel == 5) return vec4(vec3(pixel.a), 1.0);
  return vec4(forDisplay(c), 1.0);
}
// the mean of 5 x 5 pixels: lines of equal luminance follow the light and not its noise
vec4 smoothed(sampler2D source, vec4 window, vec2 detail, vec2 at) {
  vec4 middle = fetchPixel(source, window, detail, at);
  if (middle.r < -1e29 || data) return middle;
  vec4 sum = vec4(0.0);
  float n = 0.0;
  for (int y = -2; y <= 2; y++)
    for (int x = -2; x <= 2; x++) {
      vec2 p = at - window.xy + vec2(x, y) * max(1.0, 1.0 / scale);
      if (any(lessThan(p, vec2(0.0))) || any(greaterThanEqual(p, window.zw))) continue;
      sum += texel(source, window, detail, p);
      n += 1.0;
    }
  return sum / n;
}
// number of the isoline below a value
float level(vec4 pixel) {
  if (data) return floor(10.0 * (pixel.r - range.x) / (range.y - range.x));
  return floor(log2(max(1e-9, single ? pixel.r : dot(pixel.rgb, LUMINANCE))));
}
vec4 showDifference(vec4 a, vec4 b) {
  if (a.r < -1e29 || b.r < -1e29) return WALL;
  vec3 d = (b.rgb - a.rgb) * differenceGain;
  if (single) d = d.rrr;
  if (difference == 0) return vec4(vec3(0.5) + 0.5 * clamp(d, -1.0, 1.0), 1.0);
  if (difference == 1) return vec4(clamp(abs(d), 0.0, 1.0), 1.0);
  return vec4(ramp(dot(abs(d), LUMINANCE) / (abs(dot(a.rgb, LUMINANCE)) + RELATIVE_FLOOR)), 1.0);
}
void main() {
  vec2 screen = vec2(gl_FragCoord.x, canvas.y - gl_FragCoord.y);
  vec2 centre = canvas / 2.0;
  bool right = false;
  if (mode == 3) {
    right = screen.x >= centre.x;
    centre.x = right ? canvas.x * 0.75 : canvas.x * 0.25;
  }
  vec2 at = (screen - centre) / scale + offset;
  vec4 a = fetchPixel(first, firstWindow, firstDetail, at);
  vec4 b = mode == 0 ? NOTHING : fetchPixel(other, secondWindow, secondDetail, at);
  float beyond = dot(screen - canvas / 2.0, wipe.xy) - wipe.z;
  bool second = mode == 1 ? beyond >= 0.0 && b.r > -1e29 : mode == 2 ? blink : right;
  if (mode == 4) result = showDifference(a, b);
  else {
    vec4 own = second ? b : a;
    result = mix(show(own, screen), WALL, bvec4(own.r < -1e29));
    if (isolines && own.r > -1e29) {
      vec2 step = vec2(1.0 / scale, 0.0);
      float here = level(second ? smoothed(other, secondWindow, secondDetail, at) : smoothed(first, firstWindow, firstDetail, at));
      vec4 across = second ? smoothed(other, secondWindow, secondDetail, at + step.xy) : smoothed(first, firstWindow, firstDetail, at + step.xy);
      vec4 down = second ? smoothed(other, secondWindow, secondDetail, at + step.yx) : smoothed(first, firstWindow, firstDetail, at + step.yx);
      if ((across.r > -1e29 && level(across) != here) || (down.r > -1e29 && level(down) != here))
        result.rgb = vec3(dot(result.rgb, LUMINANCE) < 0.4 ? 1.0 : 0.0);
    }
  }
  if (mode == 1 && abs(beyond) < 1.0) result = vec4(0.85, 0.7, 0.37, 1.0);
  if (mode == 3 && abs(screen.x - canvas.x / 2.0) < 1.0) result = WALL;
  if (grid && a.r > -1e29) {
    vec2 edge = fract(at) * scale;
    if (edge.x < 1.0 || edge.y < 1.0) result.rgb = mix(result.rgb, vec3(0.5), 0.35);
  }
}`;
