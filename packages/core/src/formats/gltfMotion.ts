// The pose of an animated scene at a time: channels of all animations are evaluated and set on their nodes (glTF 2.0,
// appendix C: step, linear with spherical interpolation of rotations, cubic splines). Before the first key and after the
// last one a channel keeps their values.
import type { AnimationSampler, Document, Node } from '@gltf-transform/core';

/** When the shutter is open, in seconds of the animation, and at how many times between the motion is taken. */
export interface ShutterInterval {
  time: number;
  shutter: number;
  /** At least 2, where anything moves. */
  keys: number;
}
export const SHUTTER_DEFAULTS: ShutterInterval = { time: 0, shutter: 1 / 48, keys: 2 };

/** The times of the keys, from the opening of the shutter to its closing. */
export function shutterTimes({ time, shutter, keys }: ShutterInterval): number[] {
  if (shutter === 0) return [time];
  return Array.from({ length: Math.max(2, keys) }, (_, i) => time + (shutter * i) / (Math.max(2, keys) - 1));
}

export function setPose(document: Document, time: number): void {
  for (const animation of document.getRoot().listAnimations())
    for (const channel of animation.listChannels()) {
      const [node, sampler, path] = [channel.getTargetNode(), channel.getSampler(), channel.getTargetPath()];
      if (!node || !sampler || !path) continue;
      const value = valueAt(sampler, time, path === 'rotation');
      if (value) setOn(node, path, value);
    }
}

function setOn(node: Node, path: string, value: number[]): void {
  if (path === 'translation') node.setTranslation(value as [number, number, number]);
  else if (path === 'scale') node.setScale(value as [number, number, number]);
  else if (path === 'rotation') node.setRotation(unit(value) as [number, number, number, number]);
  else if (path === 'weights') node.setWeights(value);
}

function valueAt(sampler: AnimationSampler, time: number, turns: boolean): number[] | null {
  const [input, output] = [sampler.getInput(), sampler.getOutput()];
  const times = input?.getArray();
  if (!input || !output || !times || times.length === 0) return null;
  const cubic = sampler.getInterpolation() === 'CUBICSPLINE';
  // weights of several targets stand one after the other as single numbers
  const size = (output.getCount() * output.getElementSize()) / times.length / (cubic ? 3 : 1);
  const flat: number[] = [];
  for (let i = 0; i < output.getCount(); i++) flat.push(...output.getElement(i, []));
  const at = (key: number, part: number) => flat.slice((key * (cubic ? 3 : 1) + part) * size, (key * (cubic ? 3 : 1) + part + 1) * size); // prettier-ignore
  const own = cubic ? 1 : 0;
  if (time <= times[0]) return at(0, own);
  const last = times.length - 1;
  if (time >= times[last]) return at(last, own);
  let key = 0;
  while (times[key + 1] <= time) key++;
  if (sampler.getInterpolation() === 'STEP') return at(key, own);
  const span = times[key + 1] - times[key];
  const s = (time - times[key]) / span;
  const [from, to] = [at(key, own), at(key + 1, own)];
  if (!cubic) return turns ? slerp(from, to, s) : from.map((v, k) => v + s * (to[k] - v));
  const [out, into] = [at(key, 2), at(key + 1, 0)];
  const [s2, s3] = [s * s, s * s * s];
  return from.map((v, k) => (2 * s3 - 3 * s2 + 1) * v + span * (s3 - 2 * s2 + s) * out[k] + (3 * s2 - 2 * s3) * to[k] + span * (s3 - s2) * into[k]); // prettier-ignore
}

function slerp(a: number[], b: number[], s: number): number[] {
  const dot = a.reduce((sum, v, k) => sum + v * b[k], 0);
  const sign = dot < 0 ? -1 : 1;
  const angle = Math.acos(Math.min(1, Math.abs(dot)));
  if (angle < 1e-6) return a.map((v, k) => v + s * (sign * b[k] - v));
  const [wa, wb] = [Math.sin((1 - s) * angle) / Math.sin(angle), (sign * Math.sin(s * angle)) / Math.sin(angle)];
  return a.map((v, k) => wa * v + wb * b[k]);
}

function unit(v: number[]): number[] {
  const length = Math.hypot(...v) || 1;
  return v.map((x) => x / length);
}
