import { DISPLAY_TRANSFORMS } from '@dusting/core/color';
import { FRAGMENT, VERTEX } from './shader.ts';
import { beyondWipe, CHANNELS, DIFFERENCES, MODES, type PictureDrawer, type PlacedPicture, type View } from './view.ts';
import { toRgba } from './toRgba.ts';

/** Draws float pictures with one shader; null where WebGL2 is missing. */
export function createGlDrawer(canvas: HTMLCanvasElement): PictureDrawer | null {
  const gl = canvas.getContext('webgl2', { antialias: false, preserveDrawingBuffer: true });
  if (!gl) return null;
  const program = gl.createProgram();
  for (const [type, source] of [
    [gl.VERTEX_SHADER, VERTEX],
    [gl.FRAGMENT_SHADER, FRAGMENT],
  ] as const) {
    const shader = gl.createShader(type)!;
    gl.shaderSource(shader, source);
    gl.compileShader(shader);
    if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) throw new Error(gl.getShaderInfoLog(shader) ?? 'shader');
    gl.attachShader(program, shader);
  }
  gl.linkProgram(program);
  gl.useProgram(program);
  gl.bindVertexArray(gl.createVertexArray());
  const at = (name: string) => gl.getUniformLocation(program, name);
  const places = Object.fromEntries(
    [
      'first',
      'other',
      'firstWindow',
      'secondWindow',
      'offset',
      'canvas',
      'scale',
      'mode',
      'wipe',
      'blink',
      'difference',
      'differenceGain',
      'gain',
      'transform',
      'channel',
      'range',
      'channels',
      'marks',
      'isolines',
    ].map((n) => [n, at(n)]),
  );
  const units = [0, 1].map((unit) => {
    const texture = gl.createTexture();
    gl.activeTexture(gl.TEXTURE0 + unit);
    gl.bindTexture(gl.TEXTURE_2D, texture);
    for (const name of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER])
      gl.texParameteri(gl.TEXTURE_2D, name, gl.NEAREST);
    for (const name of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T]) gl.texParameteri(gl.TEXTURE_2D, name, gl.CLAMP_TO_EDGE);
    return { shown: null as Uint16Array | null };
  });
  gl.uniform1i(places.first, 0);
  gl.uniform1i(places.other, 1);

  const place = (unit: number, name: string, placed: PlacedPicture | null) => {
    const { x, y, width, height } = placed?.window ?? { x: 0, y: 0, width: 0, height: 0 };
    gl.uniform4f(places[name], x, y, width, height);
    if (!placed || units[unit].shown === placed.picture.halves) return;
    units[unit].shown = placed.picture.halves;
    gl.activeTexture(gl.TEXTURE0 + unit);
    const { width: w, height: h } = placed.picture;
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA16F, w, h, 0, gl.RGBA, gl.HALF_FLOAT, toRgba(placed.picture));
  };

  return {
    draw(first: PlacedPicture | null, second: PlacedPicture | null, view: View) {
      gl.viewport(0, 0, canvas.width, canvas.height);
      place(0, 'firstWindow', first);
      place(1, 'secondWindow', second);
      gl.uniform2f(places.offset, view.centre.x, view.centre.y);
      gl.uniform2f(places.canvas, canvas.width, canvas.height);
      gl.uniform1f(places.scale, view.scale);
      gl.uniform1i(places.mode, second ? MODES.indexOf(view.mode) : 0);
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
      gl.uniform1i(places.difference, DIFFERENCES.indexOf(view.difference));
      gl.uniform1f(places.differenceGain, view.gain);
      gl.uniform1f(places.gain, 2 ** view.stops);
      gl.uniform1i(places.transform, DISPLAY_TRANSFORMS.indexOf(view.transform));
      gl.uniform1i(places.channel, CHANNELS.indexOf(view.channel));
      gl.uniform2f(places.range, ...(view.range ?? ([0, 0] as [number, number])));
      gl.uniform1i(places.channels, first?.picture.channels.length ?? 3);
      gl.uniform1i(places.marks, view.marks ? 1 : 0);
      gl.uniform1i(places.isolines, view.isolines ? 1 : 0);
      if ('drawingBufferColorSpace' in gl)
        gl.drawingBufferColorSpace = view.transform === 'displayP3' ? 'display-p3' : 'srgb';
      gl.drawArrays(gl.TRIANGLES, 0, 3);
    },
  };
}
