import { DISPLAY_TRANSFORMS } from '@dusting/core/color';
import { fragment, VERTEX, type Looking } from './shader.ts';
import { beyondWipe, CHANNELS, DIFFERENCES, MODES, type PictureDrawer, type PlacedPicture, type View } from './view.ts';
import { toRgba } from './toRgba.ts';

/** Canvas pixels for one of the frame from which on the grid is drawn. */
const GRID_FROM = 8;
/** Halved pictures that are looked at: down to a sixteenth. */
const LEVELS = 4;

const UNIFORMS = ['first', 'other', 'firstWindow', 'secondWindow', 'firstDetail', 'secondDetail', 'offset', 'canvas', 'scale', 'wipe', 'blink', 'differenceGain', 'gain', 'curve', 'range', 'lod', 'shrink'] as const; // prettier-ignore
type Places = Record<(typeof UNIFORMS)[number], WebGLUniformLocation | null>;

/** Draws float pictures; null where WebGL2 is missing. */
export function createGlDrawer(canvas: HTMLCanvasElement): PictureDrawer | null {
  const gl = canvas.getContext('webgl2', { antialias: false, preserveDrawingBuffer: true });
  if (!gl) return null;
  gl.bindVertexArray(gl.createVertexArray());
  /** Programs by what they look at. */
  const programs = new Map<string, { program: WebGLProgram; places: Places }>();
  function use(looking: Looking): Places {
    const key = JSON.stringify(looking);
    const found = programs.get(key) ?? build(gl!, looking);
    programs.set(key, found);
    gl!.useProgram(found.program);
    return found.places;
  }
  // float pictures are halved by the hardware where it can draw on them
  const halves = gl.getExtension('EXT_color_buffer_float') !== null;
  const units = [0, 1].map((unit) => {
    const texture = gl.createTexture();
    gl.activeTexture(gl.TEXTURE0 + unit);
    gl.bindTexture(gl.TEXTURE_2D, texture);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, halves ? gl.NEAREST_MIPMAP_NEAREST : gl.NEAREST);
    for (const name of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T]) gl.texParameteri(gl.TEXTURE_2D, name, gl.CLAMP_TO_EDGE);
    return { shown: null as Uint16Array | null };
  });

  type Where = WebGLUniformLocation | null;
  const place = (unit: number, where: Where, detail: Where, placed: PlacedPicture | null) => {
    const { x, y, width, height } = placed?.window ?? { x: 0, y: 0, width: 0, height: 0 };
    gl.uniform4f(where, x, y, width, height);
    if (placed) gl.uniform2f(detail, placed.picture.width / width, placed.picture.height / height);
    if (!placed || units[unit].shown === placed.picture.halves) return;
    units[unit].shown = placed.picture.halves;
    gl.activeTexture(gl.TEXTURE0 + unit);
    const { width: w, height: h } = placed.picture;
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA16F, w, h, 0, gl.RGBA, gl.HALF_FLOAT, toRgba(placed.picture));
    if (halves) gl.generateMipmap(gl.TEXTURE_2D);
  };

  return {
    draw(first: PlacedPicture | null, second: PlacedPicture | null, view: View) {
      gl.viewport(0, 0, canvas.width, canvas.height);
      const places = use({
        mode: second ? MODES.indexOf(view.mode) : 0,
        difference: DIFFERENCES.indexOf(view.difference),
        transform: DISPLAY_TRANSFORMS.indexOf(view.transform),
        curved: view.gamma !== 1,
        channel: CHANNELS.indexOf(view.channel),
        single: first?.picture.channels.length === 1,
        data: view.range !== null,
        marks: view.marks,
        isolines: view.isolines,
        grid: view.scale >= GRID_FROM,
      });
      gl.uniform1i(places.first, 0);
      gl.uniform1i(places.other, 1);
      place(0, places.firstWindow, places.firstDetail, first);
      place(1, places.secondWindow, places.secondDetail, second);
      gl.uniform2f(places.offset, view.centre.x, view.centre.y);
      gl.uniform2f(places.canvas, canvas.width, canvas.height);
      gl.uniform1f(places.scale, view.scale);
      const level = halves ? Math.min(LEVELS, Math.max(0, Math.floor(0.5 - Math.log2(view.scale)))) : 0;
      gl.uniform1i(places.lod, level);
      gl.uniform1f(places.shrink, 0.5 ** level);
      // the line of the wipe by two of its points' distances: beyondWipe() is linear
      const along = (x: number, y: number) => beyondWipe(view.wipe, x, y, canvas.width, canvas.height);
      const middle = along(canvas.width / 2, canvas.height / 2);
      gl.uniform3f(
        places.wipe,
        along(canvas.width / 2 + 1, canvas.height / 2) - middle,
        along(canvas.width / 2, canvas.height / 2 + 1) - middle,
        -middle,
      );
      gl.uniform1i(places.blink, view.blink ? 1 : 0);
      gl.uniform1f(places.differenceGain, view.gain);
      gl.uniform1f(places.gain, 2 ** view.stops);
      gl.uniform1f(places.curve, 1 / view.gamma);
      gl.uniform2f(places.range, ...(view.range ?? ([0, 0] as [number, number])));
      if ('drawingBufferColorSpace' in gl)
        gl.drawingBufferColorSpace = view.transform === 'displayP3' ? 'display-p3' : 'srgb';
      gl.drawArrays(gl.TRIANGLES, 0, 3);
    },
  };
}

function build(gl: WebGL2RenderingContext, looking: Looking): { program: WebGLProgram; places: Places } {
  const program = gl.createProgram();
  for (const [type, source] of [
    [gl.VERTEX_SHADER, VERTEX],
    [gl.FRAGMENT_SHADER, fragment(looking)],
  ] as const) {
    const shader = gl.createShader(type)!;
    gl.shaderSource(shader, source);
    gl.compileShader(shader);
    if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) throw new Error(gl.getShaderInfoLog(shader) ?? 'shader');
    gl.attachShader(program, shader);
  }
  gl.linkProgram(program);
  const places = Object.fromEntries(UNIFORMS.map((name) => [name, gl.getUniformLocation(program, name)])) as Places;
  return { program, places };
}
