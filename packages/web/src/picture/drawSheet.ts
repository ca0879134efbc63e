export interface SheetCell {
  canvas: HTMLCanvasElement;
  lines: string[];
}

const GAP = 16;
const LINE = 20;

/** One picture of many with their values below them, each at the size of its canvas or scaled to the widest column. */
export function drawSheet(cells: SheetCell[], across: number, title: string): HTMLCanvasElement {
  const columns = Math.min(across, cells.length);
  const width = Math.max(320, ...cells.map((c) => c.canvas.width));
  const heights = cells.map((c) => (c.canvas.height * width) / c.canvas.width);
  const most = Math.max(...cells.map((c) => c.lines.length));
  const rows = Math.ceil(cells.length / columns);
  const rowHeights = Array.from({ length: rows }, (_, r) => Math.max(...heights.slice(r * columns, (r + 1) * columns)));
  const sheet = document.createElement('canvas');
  sheet.width = GAP + columns * (width + GAP);
  sheet.height = GAP + 2 * LINE + rowHeights.reduce((sum, h) => sum + h + most * LINE + GAP, 0);
  const context = sheet.getContext('2d')!;
  context.fillStyle = '#333333';
  context.fillRect(0, 0, sheet.width, sheet.height);
  context.fillStyle = '#e8e8e8';
  const sans = getComputedStyle(document.body).fontFamily;
  context.font = `600 15px ${sans}`;
  context.fillText(title, GAP, GAP + 12);
  context.imageSmoothingEnabled = false;
  let top = GAP + LINE + 8;
  cells.forEach(({ canvas, lines }, i) => {
    const left = GAP + (i % columns) * (width + GAP);
    const row = Math.floor(i / columns);
    context.drawImage(canvas, left, top, width, heights[i]);
    lines.forEach((line, k) => {
      context.font = `${k === 0 ? 600 : 400} 13.5px ${sans}`;
      context.fillStyle = k === 0 ? '#e8e8e8' : '#b8b8b8';
      context.fillText(line, left, top + rowHeights[row] + (k + 1) * LINE - 4, width);
    });
    if (i % columns === columns - 1) top += rowHeights[row] + most * LINE + GAP;
  });
  return sheet;
}
