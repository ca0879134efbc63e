// What goes wrong when shots are brought in or rendered is said at the place, and nothing is half done.
import { expect } from 'chai';
import { buildLh010 } from '@dusting/demo';
import { openSession, startWithDemo, test, textOf, type Session } from '../application.ts';

describe('input', () => {
  let session: Session;
  let files: { name: string; mimeType: string; buffer: Buffer }[];
  before(async () => {
    session = await openSession(await startWithDemo('input'));
    files = (await buildLh010()).map(({ name, bytes }) => ({ name, mimeType: '', buffer: Buffer.from(bytes) }));
  });
  after(() => session?.close());
  const bringIn = async (chosen: typeof files, name: string) => {
    const { page } = session;
    if (await page.locator('button:has-text("Clear")').isVisible()) await page.click('button:has-text("Clear")');
    await page.setInputFiles(test('files'), chosen);
    await page.fill('input[aria-label="Name of the shot"]', name);
    await page.click(test('import'));
  };

  it('damaged scenes are refused with the reason, beside the button', async () => {
    const { page } = session;
    const cut = { ...files[0], buffer: files[0].buffer.subarray(0, 9000) };
    await bringIn([cut], 'cut');
    await page.locator(test('import-error')).waitFor();
    expect(await textOf(page, test('import-error'))).to.match(
      /LH-010\.glb: the file is cut off: 9000 of \d+ bytes are there/,
    );
    const wrong = { ...files[1], buffer: Buffer.from('{"final": {"width": 100000, "height": 100000}}') };
    await bringIn([files[0], wrong], 'wrong');
    await page.locator(`${test('import-error')}:has-text("100000")`).waitFor();
    expect(await textOf(page, test('import-error'))).to.contain('final.width is 100000; it must be at most 16384');
    expect(
      await page
        .locator('[data-test^="shot-"]')
        .filter({ hasText: /cut|wrong/ })
        .count(),
    ).to.equal(0);
    expect((await fetch(`${session.application.url}/api/health`)).status).to.equal(200);
  });

  it('a scene with a settings file and its picture is brought in; its name cannot be used twice', async () => {
    const { page } = session;
    await bringIn(files, 'LH-010 again');
    await page.locator('text=This shot has not been rendered yet').waitFor();
    await page.click('a.home');
    await page.locator(test('shot-LH-010 again')).waitFor();
    await bringIn(files, 'LH-010 again');
    await page.locator(`${test('import-error')}:has-text("another name")`).waitFor();
  });

  it('the interface refuses what does not fit, and strangers', async () => {
    const url = `${session.application.url}/api`;
    const send = (path: string, body: unknown, headers = {}) =>
      fetch(`${url}/${path}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', ...headers },
        body: typeof body === 'string' ? body : JSON.stringify(body),
      });
    const detail = async (answer: Response) =>
      `${answer.status} ${((await answer.json()) as { detail: string }).detail}`;
    expect(await detail(await send('shots/1/proofs', { kind: 'proof', use: 'sometimes', region: null }))).to.match(
      /^400 use/,
    );
    expect(await detail(await send('shots/99/proofs', { kind: 'proof', use: 'final', region: null }))).to.equal(
      '404 There is no shot 99.',
    );
    expect(await detail(await send('shots/1/proofs', { kind: 'trial', use: 'final', region: null }))).to.match(
      /^400 The change slip is empty/,
    );
    expect((await send('shots/1/proofs', '{"kind":')).status).to.equal(400);
    expect((await send('shots/1/proofs', {}, { origin: 'https://elsewhere.example' })).status).to.equal(403);
    const put = await fetch(`${url}/shots/1/slip`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ patch: [{ op: 'replace', path: '/final/pixelSamples', value: 0 }], edits: 0 }),
    });
    expect(await detail(put)).to.match(/^422 the change slip: final\.pixelSamples is 0/);
  });

  it('a render is cancelled within a chunk, and leaves nothing behind', async () => {
    const { page } = session;
    await page.click(test('open-LH-010 again'));
    await page.locator(test('render-final')).click();
    await page.click(test('cancel-P1'));
    await page.locator(test('proof-P1')).waitFor({ state: 'detached' });
    expect(session.complaints).to.deep.equal([]);
  });
});
