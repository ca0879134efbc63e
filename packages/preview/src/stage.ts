// The live preview of one shot: compiles what is wished for, hands its jobs to tracers and reports pictures. Runs in a
// worker of the page, or on the server for scenes that are too large for one.
import {
  compileScene,
  ProgressiveRender,
  recompileScene,
  type CompiledScene,
  type PreviewJob,
  type PreviewPart,
  type PreviewPicture,
} from '@dusting/core/render';
import type { Region } from '@dusting/core/image';
import { applyPatch, blobsOf, isolate, type Isolation, type Patch, type RenderSettings, type SettingsUse, type ShotDocument } from '@dusting/core/scene'; // prettier-ignore
import type { MakeBuffer } from '@dusting/core/trace';

/** Milliseconds between pictures, after the first. */
const PICTURE_EVERY = 120;

/** What is to be seen. */
export interface PreviewWish {
  /** Changes of the revision that is open. */
  patch: Patch;
  use: SettingsUse;
  isolation: Isolation;
  /** Samples of each pixel, at the end. */
  samples: number;
  /** What gets its samples first, in shares of the frame; null: all alike. */
  interest: Region | null;
  /** A look without noise: what is rendered stays the same. */
  denoised: boolean;
}
export interface PreviewReport {
  /** Number of the wish that it answers. */
  wish: number;
  picture: PreviewPicture;
  objectIds: string[];
  surfaceIds: string[];
  settings: RenderSettings;
  /** Fewest samples of a pixel: in the frame, and in what is looked at. */
  least: { frame: number; interest: number };
  samples: number;
  done: boolean;
}

/** What a stage stands on. */
export interface StageWorld {
  tracers: {
    load(scene: CompiledScene, settings: RenderSettings, thread: number): Promise<void> | void;
    render(job: PreviewJob): Promise<PreviewPart>;
  }[];
  makeBuffer: MakeBuffer;
  loadBlob(id: string): Promise<Uint8Array>;
  report(report: PreviewReport): void;
  /** The wish cannot be followed. */
  fault(wish: number, text: string): void;
}

type Tracer = StageWorld['tracers'][number];

interface Present {
  number: number;
  wish: PreviewWish;
  render: ProgressiveRender;
  scene: CompiledScene;
  settings: RenderSettings;
}

export class PreviewStage {
  private base: ShotDocument | null = null;
  private readonly blobs = new Map<string, Uint8Array>();
  /** The scene that was compiled last and what from, to compile only what changes. */
  private compiled: { scene: CompiledScene; document: ShotDocument; settings: RenderSettings } | null = null;
  private wanted: { number: number; wish: PreviewWish } | null = null;
  private present: Present | null = null;
  private preparing = false;
  private paused = false;
  private readonly working = new Set<Tracer>();
  private whenIdle: (() => void) | null = null;
  private reportedAt = 0;
  private reportLater: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly world: StageWorld) {}

  /** The revision that wishes are changes of. */
  open(document: ShotDocument): void {
    this.base = document;
  }

  /** Takes the place of the wish before. */
  show(number: number, wish: PreviewWish): void {
    const { present } = this;
    if (present && !this.preparing && isSameRender(present.wish, wish)) {
      Object.assign(present, { number, wish });
      return this.send();
    }
    this.wanted = { number, wish };
    if (!this.preparing) void this.prepare();
  }

  lookAt(interest: Region | null): void {
    if (!this.present) return;
    this.present.wish = { ...this.present.wish, interest };
    this.present.render.lookAt(inPixels(interest, this.present.settings));
  }

  pause(on: boolean): void {
    this.paused = on;
    if (!on) this.issue();
  }

  /** Compiles what is wanted, and again if something else was wanted meanwhile. */
  private async prepare(): Promise<void> {
    this.preparing = true;
    while (this.wanted) {
      const { number, wish } = this.wanted;
      this.wanted = this.present = null;
      try {
        // moved objects are written into the memory that the tracers read
        if (this.working.size > 0) await new Promise<void>((resolve) => (this.whenIdle = resolve));
        this.whenIdle = null;
        this.present = await this.compile(number, wish);
        // the first picture waits for nothing that belongs to the one before
        if (this.reportLater !== null) clearTimeout(this.reportLater);
        this.reportLater = null;
        this.reportedAt = 0;
      } catch (error) {
        this.world.fault(number, (error as Error).message);
      }
    }
    this.preparing = false;
    this.issue();
  }

  private async compile(number: number, wish: PreviewWish): Promise<Present> {
    const { patch, use, isolation, samples, interest } = wish;
    if (!this.base) throw new Error('no shot is open');
    const { makeBuffer, tracers } = this.world;
    const document = isolate(applyPatch(this.base, patch), use, isolation);
    const settings = document[use];
    const needed = blobsOf(document);
    for (const id of this.blobs.keys()) if (!needed.includes(id)) this.blobs.delete(id);
    for (const id of needed) if (!this.blobs.has(id)) this.blobs.set(id, await this.world.loadBlob(id));
    const readBlob = (id: string) => this.blobs.get(id)!;
    const before = this.compiled;
    this.compiled = null; // if it fails, half of it may have moved
    const scene = before
      ? recompileScene(before.scene, before, { document, settings }, readBlob, makeBuffer)
      : compileScene(document, settings, readBlob, makeBuffer);
    this.compiled = { scene, document, settings };
    await Promise.all(tracers.map((tracer, i) => tracer.load(scene, settings, i)));
    const render = new ProgressiveRender(settings, samples);
    render.lookAt(inPixels(interest, settings));
    return { number, wish, render, scene, settings };
  }

  private issue(): void {
    for (const tracer of this.world.tracers) if (!this.working.has(tracer)) void this.work(tracer);
  }

  /** One tracer works until there is nothing to do. */
  private async work(tracer: Tracer): Promise<void> {
    this.working.add(tracer);
    for (;;) {
      const mine = this.present;
      const job = this.paused || this.preparing ? null : mine?.render.next();
      if (!mine || !job) break;
      try {
        const part = await tracer.render(job);
        mine.render.take(job, part);
        if (mine === this.present) this.report();
      } catch (error) {
        if (mine === this.present) this.world.fault(mine.number, (error as Error).message);
        break;
      }
    }
    this.working.delete(tracer);
    if (this.working.size === 0) this.whenIdle?.();
  }

  /** The first picture at once, the others not too often. */
  private report(): void {
    const render = this.present?.render;
    if (!render?.stands || this.reportLater !== null) return;
    const wait = render.done ? 0 : Math.max(0, this.reportedAt + PICTURE_EVERY - performance.now());
    if (wait === 0) this.send();
    else this.reportLater = setTimeout(() => this.send(), wait);
  }

  private send(): void {
    this.reportLater = null;
    if (!this.present?.render.stands) return;
    this.reportedAt = performance.now();
    const { number, render, scene, settings, wish } = this.present;
    const { objectIds, surfaceIds } = scene;
    const { least, samples, done } = render;
    this.world.report({
      wish: number,
      picture: render.picture(wish.denoised),
      objectIds,
      surfaceIds,
      settings,
      least,
      samples,
      done,
    });
  }
}

/** Whether two wishes differ in nothing but how the picture is looked at. */
const isSameRender = (a: PreviewWish, b: PreviewWish) => JSON.stringify({ ...a, denoised: false }) === JSON.stringify({ ...b, denoised: false }); // prettier-ignore

function inPixels(share: Region | null, { width, height }: RenderSettings): Region | null {
  if (!share) return null;
  const x = Math.floor(share.x * width);
  const y = Math.floor(share.y * height);
  return { x, y, width: Math.ceil((share.x + share.width) * width) - x, height: Math.ceil((share.y + share.height) * height) - y }; // prettier-ignore
}
