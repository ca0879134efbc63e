import { importFindings } from '@dusting/core/diagnose';
import { writeExrFile } from './files.ts';
import { raysIn, type RenderStatistics } from '@dusting/core/render';
import { COMMON, parseOptions, parseRegion, SCENE } from './options.ts';
import { openScene, renderScene } from './renderScene.ts';
import { HELP, UsageError } from './usage.ts';

export async function render(args: string[]): Promise<string> {
  const { values, positionals } = parseOptions(args, { ...COMMON, ...SCENE, out: { type: 'string' } } as const, 1);
  if (values.help) return HELP.render;
  if (!values.out) throw new UsageError('--out PROOF.exr is missing');
  if (!/\.exr$/i.test(values.out))
    throw new UsageError(`a proof is an OpenEXR file: --out ${values.out} must end in .exr`);
  const scene = await openScene(positionals[0], values);
  const rendered = await renderScene(scene, parseRegion(values.region), { asFile: true });
  const started = performance.now();
  writeExrFile(values.out, rendered.pieces!);
  const { statistics, settings, triangles } = rendered;
  const findings = [...rendered.findings, ...importFindings(scene.unsupported)];
  const seconds: Record<string, number> = {
    import: scene.seconds,
    compile: rendered.compileSeconds,
    render: rendered.seconds,
    write: rendered.finishSeconds + (performance.now() - started) / 1000,
  };
  seconds.total = Object.values(seconds).reduce((sum, s) => sum + s, 0);
  const report = {
    out: values.out,
    width: settings.width,
    height: settings.height,
    use: scene.use,
    seconds,
    rays: { ...statistics.rays, total: raysIn(statistics) },
    samples: statistics.samples,
    pixelSamples: settings.pixelSamples,
    triangles,
    /** L*, 95th percentile of the tiles at the shadow check; null where one sample of each pixel cannot show it */
    noise: settings.pixelSamples > 1 ? statistics.noise : null,
    /** Four in five such renders would measure between these. */
    noiseRange: settings.pixelSamples > 1 ? statistics.noiseRange : null,
    meanLuminance: statistics.meanLuminance,
    cutOff: statistics.cutOff,
    peakMemoryBytes: process.resourceUsage().maxRSS * 1024,
    findings,
    settings,
  };
  if (values.json) return JSON.stringify(report);
  return [
    `${values.out}: ${settings.width} x ${settings.height}, ${settings.pixelSamples} pixel samples`,
    `time    ${seconds.total.toFixed(1)} s (render ${seconds.render.toFixed(1)} s)`,
    `rays    ${(report.rays.total / 1e6).toFixed(2)} million`,
    `noise   ${noiseText(statistics, settings.pixelSamples)}`,
    ...findings.map(({ severity, text }) => `${severity.padEnd(7)} ${text}`),
  ].join('\n');
}

function noiseText({ noise, noiseRange: { high, low } }: RenderStatistics, pixelSamples: number): string {
  if (pixelSamples === 1) return 'not measured (1 sample)';
  return `${noise.toFixed(2)} L* (${low.toFixed(2)} to ${high.toFixed(2)})`;
}
