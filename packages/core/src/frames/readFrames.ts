// Frames that another renderer wrote: which files belong to one frame, and one picture of them.
import { InputError, isExr, readExr, readTexture, PLAIN_SPACE, type ExrWanted } from '../formats/index.ts';
import type { Channel, Picture } from '../image/index.ts';

export interface FrameFile {
  name: string;
  bytes: Uint8Array;
}
/** The files of one frame; `number` is null for a single one. */
export interface FrameFiles {
  number: number | null;
  files: { file: FrameFile; /** Empty where the frame is one file. */ layer: string }[];
}

export const isFrameFile = (name: string) => /\.(exr|png|hdr|jpe?g|tiff?)$/i.test(name);
export const isLogFile = (name: string) => /\.(log|txt)$/i.test(name);

/** "sill_diffuse.0101.exr" -> "sill_diffuse" and 101. A number has a dot or three digits, so that "v02" is part of a name. */
function partsOf(name: string): { stem: string; number: number | null } {
  const bare = name.replace(/\.[^.]*$/, '');
  const found = /^(.*?)(?:\.(-?\d+)|[_-](\d{3,})|(\d{4,}))$/.exec(bare);
  if (!found) return { stem: bare, number: null };
  return { stem: found[1], number: Number(found[2] ?? found[3] ?? found[4]) };
}

/** Files of one number make one frame; where it has several, each is a layer, called by what its name alone has. */
export function groupFrames(files: FrameFile[]): FrameFiles[] {
  const stems = [...new Set(files.map((f) => partsOf(f.name).stem))];
  const shared = commonStart(stems);
  const frames = new Map<number | null, FrameFiles>();
  for (const file of files) {
    const { stem, number } = partsOf(file.name);
    const frame = frames.get(number) ?? { number, files: [] };
    const layer = stem.slice(shared.length).replace(/^[_.\s-]+/, '') || 'beauty';
    frame.files.push({ file, layer: stems.length > 1 ? layer : '' });
    frames.set(number, frame);
  }
  return [...frames.values()].sort((a, b) => (a.number ?? 0) - (b.number ?? 0));
}

/** What all start with: one of them whole, or up to a sign between words. */
function commonStart(names: string[]): string {
  const whole = names.find((name) => names.every((other) => other.startsWith(name)));
  if (whole !== undefined) return whole;
  const [first = '', ...others] = names;
  let length = 0;
  while (length < first.length && others.every((other) => other[length] === first[length])) length++;
  const start = first.slice(0, length);
  return start.slice(0, start.search(/[_.\s-][^_.\s-]*$/) + 1);
}

/**
 * One picture of the files of a frame, its display window at 0, 0. Pictures of 8 or 16 bits are taken as encoded sRGB.
 * @param wanted of OpenEXR files
 * @throws InputError naming the file that cannot be read or does not fit the others
 */
export function readFrame({ files }: FrameFiles, wanted: ExrWanted = {}): Picture {
  const pictures = files.map(({ file, layer }) => ({ name: file.name, layer, picture: readOne(file, wanted) }));
  const [first] = pictures;
  const channels: Channel[] = [];
  for (const { name, layer, picture } of pictures) {
    for (const side of ['x', 'y', 'width', 'height'] as const)
      if (picture.dataWindow[side] !== first.picture.dataWindow[side])
        throw new InputError(
          `the pixels are ${size(picture)}, those of ${first.name} are ${size(first.picture)}: layers of one frame have the same`,
          name,
        );
    for (const channel of picture.channels)
      channels.push({ ...channel, name: layer ? `${layer}.${channel.name}` : channel.name });
  }
  const twice = channels.find((c, i) => channels.findIndex((other) => other.name === c.name) !== i);
  if (twice) throw new InputError(`two files of one frame have a channel ${twice.name}`, first.name);
  return { ...first.picture, channels, metadata: Object.assign({}, ...pictures.map((p) => p.picture.metadata)) };
}

const size = ({ dataWindow: w }: Picture) => `${w.width} x ${w.height} at ${w.x}, ${w.y}`;

function readOne({ name, bytes }: FrameFile, wanted: ExrWanted): Picture {
  if (isExr(bytes)) {
    const picture = readExr(bytes, name, wanted);
    const { x, y } = picture.displayWindow;
    const move = <T extends { x: number; y: number }>(window: T): T => ({
      ...window,
      x: window.x - x,
      y: window.y - y,
    });
    return { ...picture, dataWindow: move(picture.dataWindow), displayWindow: move(picture.displayWindow) };
  }
  const { width, height, texels } = readTexture(bytes, name, { ...PLAIN_SPACE, encoding: 'srgb' });
  const window = { x: 0, y: 0, width, height };
  return { width, height, dataWindow: window, displayWindow: window, channels: planesOf(texels), metadata: {} };
}

/** RGB, and A where any pixel is not solid: one plane after the other, as a whole frame may be hundreds of megabytes. */
function planesOf(texels: Float32Array): Channel[] {
  const pixels = texels.length / 4;
  let solid = true;
  for (let i = 3; solid && i < texels.length; i += 4) solid = texels[i] === 1;
  return [...(solid ? 'RGB' : 'RGBA')].map((name, k): Channel => {
    const data = new Float32Array(pixels);
    for (let i = 0; i < pixels; i++) data[i] = texels[i * 4 + k];
    return { name, type: 'float', data };
  });
}
