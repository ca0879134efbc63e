// CIE 1976 L*a*b* of linear Rec. 709 under its own white, and the difference CIEDE2000 (Sharma, Wu & Dalal 2005, "The
// CIEDE2000 color-difference formula: implementation notes", whose test data the test uses).

/** Linear Rec. 709 (IEC 61966-2-1) to XYZ over the white, row by row; every row sums to 1. */
const TO_XYZ = [0.43395, 0.376219, 0.189831, 0.212673, 0.715152, 0.072175, 0.017758, 0.109477, 0.872766];

function f(t: number): number {
  return t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116;
}

/** L*, a*, b* of linear r, g, b in 0..1 into out[0..2]. */
export function toLab(r: number, g: number, b: number, out: Float64Array | number[]): void {
  const x = f(TO_XYZ[0] * r + TO_XYZ[1] * g + TO_XYZ[2] * b);
  const y = f(TO_XYZ[3] * r + TO_XYZ[4] * g + TO_XYZ[5] * b);
  const z = f(TO_XYZ[6] * r + TO_XYZ[7] * g + TO_XYZ[8] * b);
  out[0] = 116 * y - 16;
  out[1] = 500 * (x - y);
  out[2] = 200 * (y - z);
}

const RADIANS = Math.PI / 180;

/** CIEDE2000 between two colours given as L*, a*, b*; 1 is about what is just seen side by side. */
export function deltaE2000(one: ArrayLike<number>, two: ArrayLike<number>): number {
  const [l1, a1, b1] = [one[0], one[1], one[2]];
  const [l2, a2, b2] = [two[0], two[1], two[2]];
  const chroma = (Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2;
  const g = (1 - Math.sqrt(chroma ** 7 / (chroma ** 7 + 25 ** 7))) / 2;
  const [p1, p2] = [a1 * (1 + g), a2 * (1 + g)];
  const [c1, c2] = [Math.hypot(p1, b1), Math.hypot(p2, b2)];
  const hue = (a: number, b: number) => (a === 0 && b === 0 ? 0 : (Math.atan2(b, a) / RADIANS + 360) % 360);
  const [h1, h2] = [hue(p1, b1), hue(p2, b2)];
  const grey = c1 * c2 === 0;
  let turn = grey ? 0 : h2 - h1;
  if (turn > 180) turn -= 360;
  else if (turn < -180) turn += 360;
  const dh = 2 * Math.sqrt(c1 * c2) * Math.sin((turn / 2) * RADIANS);
  let middle = h1 + h2;
  if (!grey) middle = Math.abs(h1 - h2) <= 180 ? middle / 2 : middle < 360 ? (middle + 360) / 2 : (middle - 360) / 2;
  const [dl, dc] = [l2 - l1, c2 - c1];
  const [lm, cm] = [(l1 + l2) / 2, (c1 + c2) / 2];
  const cos = (degrees: number) => Math.cos(degrees * RADIANS);
  const t = 1 - 0.17 * cos(middle - 30) + 0.24 * cos(2 * middle) + 0.32 * cos(3 * middle + 6) - 0.2 * cos(4 * middle - 63); // prettier-ignore
  const sl = 1 + (0.015 * (lm - 50) ** 2) / Math.sqrt(20 + (lm - 50) ** 2);
  const sc = 1 + 0.045 * cm;
  const sh = 1 + 0.015 * cm * t;
  const rc = 2 * Math.sqrt(cm ** 7 / (cm ** 7 + 25 ** 7));
  const rt = -rc * Math.sin(60 * Math.exp(-(((middle - 275) / 25) ** 2)) * RADIANS);
  const [l, c, h] = [dl / sl, dc / sc, dh / sh];
  return Math.sqrt(l * l + c * c + h * h + rt * c * h);
}
