// What can be taken out: a layer, the region, all layers, the numbers.
import { Router, type Request } from 'express';
import Papa from 'papaparse';
import { DISPLAY_TRANSFORMS, type DisplayTransform } from '@dusting/core/color';
import type { Region, RegionRow } from '@dusting/core/image';
import { getPicture, type Proof } from '../store/proofStore.ts';
import { getShot } from '../store/shotStore.ts';
import { BadRequest } from '../errors.ts';
import type { ExportFormat } from '../pictures/exportJobs.ts';
import { regionOf, whole, type Context } from './context.ts';

const FORMATS: Record<ExportFormat, { ending: string; mediaType: string }> = {
  exr: { ending: 'exr', mediaType: 'image/x-exr' },
  layers: { ending: 'exr', mediaType: 'image/x-exr' },
  repaired: { ending: 'exr', mediaType: 'image/x-exr' },
  hdr: { ending: 'hdr', mediaType: 'image/vnd.radiance' },
  png16: { ending: 'png', mediaType: 'image/png' },
};

const COLUMNS: (keyof RegionRow)[] = ['layer', 'channel', 'mean', 'least', 'most', 'spread', 'error', 'notFinite'];

export function exportRoutes({ db, pictures }: Context): Router {
  const router = Router();

  /** ?layer=&stops=&transform=&gamma=, and the region; PNG has the display transform burnt in, the others are linear. */
  router.get('/proofs/:proof/export/:format', async (request, response) => {
    const format = request.params.format as ExportFormat;
    if (!(format in FORMATS)) throw new BadRequest(`A picture is taken out as ${Object.keys(FORMATS).join(', ')}.`);
    const { proof, source } = await getPicture(db, whole(request, 'proof'));
    const region = regionOf(request) ?? proof.region;
    const layer = text(request, 'layer') ?? 'beauty';
    const transform = (text(request, 'transform') ?? 'srgb') as DisplayTransform;
    const stops = Number(text(request, 'stops') ?? 0);
    const gamma = Number(text(request, 'gamma') ?? 1);
    if (!DISPLAY_TRANSFORMS.includes(transform) || !(Math.abs(stops) <= 64) || !(gamma >= 0.2 && gamma <= 5))
      throw new BadRequest(
        `The display transform is one of ${DISPLAY_TRANSFORMS.join(', ')}; stops are a number; gamma is 0.2 to 5.`,
      );
    const bytes = await pictures.exported(source, region, format, layer, { stops, transform, gamma });
    const { ending, mediaType } = FORMATS[format];
    const name = await nameOf(proof, format === 'layers' || format === 'repaired' ? format : layer, region);
    response
      .set('content-type', mediaType)
      .set('content-disposition', `attachment; filename="${name}.${ending}"`)
      .send(Buffer.from(bytes));
  });

  /** Every channel of the region: mean, least, most, spread, standard error. */
  router.get('/proofs/:proof/table', async (request, response) => {
    const { proof, source } = await getPicture(db, whole(request, 'proof'));
    const region = regionOf(request) ?? proof.region;
    const rows = await pictures.table(source, region);
    if (rows.length === 0) throw new BadRequest('The region lies outside this proof.');
    response
      .set('content-type', 'text/csv; charset=utf-8')
      .set('content-disposition', `attachment; filename="${await nameOf(proof, 'numbers', region)}.csv"`)
      .send(`${Papa.unparse(rows, { columns: COLUMNS })}\r\n`);
  });

  async function nameOf(proof: Proof, what: string, region: Region): Promise<string> {
    const { name } = await getShot(db, proof.shot);
    const own = region.width === proof.region.width && region.height === proof.region.height;
    const part = own ? '' : `_${region.x}-${region.y}_${region.width}x${region.height}`;
    return `${name}_${proof.kind === 'trial' ? 'T' : 'P'}${proof.number}_${what}${part}`.replace(/[^\w.-]+/g, '_');
  }
  return router;
}

function text(request: Request, name: string): string | undefined {
  const value = request.query[name];
  return typeof value === 'string' ? value : undefined;
}
