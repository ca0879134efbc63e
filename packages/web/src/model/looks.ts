// What the model is drawn with.
import { BackSide, FrontSide, LineBasicMaterial, MeshBasicMaterial, MeshLambertMaterial, type Side } from 'three';

export const ACCENT = 0xd8b25e;
/** Vermilion of Okabe & Ito 2008. */
const BACK = 0xd55e00;

/** What faces look like; of turned ones the side that is the back in the file is the front. */
function faces(front: Side, behind: Side) {
  return {
    plain: new MeshLambertMaterial({ color: 0x9a9a9a, side: front }),
    clear: new MeshLambertMaterial({ color: 0xb4b4b4, side: front, transparent: true, opacity: 0.35, depthWrite: false }), // prettier-ignore
    chosen: new MeshLambertMaterial({ color: ACCENT, side: front }),
    back: new MeshLambertMaterial({ color: BACK, side: behind }),
    backQuiet: new MeshLambertMaterial({ color: 0x6e6e6e, side: behind }),
  };
}
export const FACES = faces(FrontSide, BackSide);
export const TURNED_FACES = faces(BackSide, FrontSide);
export const WIRE = new MeshBasicMaterial({ color: 0x1d1d1d, wireframe: true, transparent: true, opacity: 0.5 });
export const LINE_COLORS = { plain: 0xc8c8c8, chosen: ACCENT, seams: 0x56b4e9, normals: 0xf0e442 };
const line = (color: number) => new LineBasicMaterial({ color });
export const LINES = {
  plain: line(LINE_COLORS.plain),
  chosen: line(LINE_COLORS.chosen),
  seams: line(LINE_COLORS.seams),
  normals: line(LINE_COLORS.normals),
};
