// The occlusion layer of a picture, and where it says something.
import { cropPlane, findChannel, isSurfaceDepth, type Picture, type Region } from '../../image/index.ts';

/** The layer of a region, as one plane; null where the picture has none. */
export function occlusionPlane(picture: Picture, region: Region): Float32Array | null {
  const channel = ['Y', 'R', 'G'].map((name) => findChannel(picture, 'occlusion', name)).find(Boolean);
  return channel ? cropPlane(picture, channel.data, region) : null;
}

/** Whether each pixel of a region shows a surface: beyond them a layer says nothing. All do where the depth is not known. */
export function surfacePixels(picture: Picture, region: Region): (i: number) => boolean {
  const depth = findChannel(picture, 'depth', 'Z');
  if (!depth) return () => true;
  const away = cropPlane(picture, depth.data, region);
  return (i) => isSurfaceDepth(away[i]);
}

/** Mean over what shows a surface; null where nothing does, or the picture has no layer. */
export function meanOpenness(picture: Picture, region: Region): number | null {
  const shows = surfacePixels(picture, region);
  const values = occlusionPlane(picture, region)?.filter((_, i) => shows(i));
  return values && values.length > 0 ? values.reduce((sum, v) => sum + v, 0) / values.length : null;
}
