import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type BrowserContext } from 'playwright-core';

/** What is waited for at most, ms: machines differ, and a wait ends as soon as it may. */
export const PATIENCE = 120_000;

/** Debian's Chromium, headless, with WebGL drawn in software. */
export async function openBrowser(): Promise<BrowserContext> {
  const context = await chromium.launchPersistentContext(mkdtempSync(join(tmpdir(), 'dusting-browser-')), {
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    headless: true,
    viewport: { width: 1280, height: 800 },
    args: [
      '--no-sandbox',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--disable-gpu-compositing',
      '--use-angle=swiftshader',
      '--enable-unsafe-swiftshader',
    ],
  });
  context.setDefaultTimeout(PATIENCE);
  return context;
}
