// Shared use: the application opened at another address than this machine's own, with an access token.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { startApplication } from '../../scripts/lib/application.mjs';
import { connect } from '../../packages/server/src/db/connect.ts';
import { notify } from '../../packages/server/src/db/notices.ts';
import { DATA, keepPicture, openSession, test, textOf, type Session } from '../application.ts';

const TOKEN = 'a token of the walk';

describe('sharing', function () {
  this.timeout(300_000);
  let session: Session;
  before(async () => {
    const dataFolder = join(DATA, 'sharing');
    mkdirSync(dataFolder, { recursive: true });
    const env = { DUSTING_HOST: '127.0.0.2', DUSTING_TOKEN: TOKEN, DUSTING_DEMO: 'scenes' };
    session = await openSession(await startApplication({ dataFolder, port: 0, env }));
    // what pages do not have that came over plain http from another machine
    await session.page.addInitScript(() => {
      Object.defineProperty(crypto, 'randomUUID', { value: undefined });
      Object.defineProperty(navigator, 'clipboard', { value: undefined });
    });
    await session.page.reload();
  });
  after(() => session?.close());

  it('asks for the token, and refuses a wrong one', async () => {
    const { page } = session;
    await page.fill('#token', 'a guess');
    await keepPicture(page, 'token');
    await page.click(test('token-open'));
    await page.locator(test('token-error')).waitFor();
    expect(await textOf(page, test('token-error'))).to.equal('This is not the access token of this server.');
    expect(await page.locator(test('shot-LH-030')).count()).to.equal(0);
  });

  it('opens with the right one, and works: changes, renders, events and downloads', async () => {
    const { page, application } = session;
    await page.fill('#token', TOKEN);
    await page.keyboard.press('Enter');
    await page.click(test('open-LH-030'));
    await page.click(test('render-preview'));
    // announced by the event stream
    await page.locator(`${test('proof-P1')} ${test('noise')}`).waitFor();
    const cookies = await page.context().cookies();
    expect(cookies.map(({ httpOnly, sameSite, value }) => ({ httpOnly, sameSite, plain: value === TOKEN }))).to.deep.equal([{ httpOnly: true, sameSite: 'Strict', plain: false }]); // prettier-ignore
    expect(await page.evaluate(() => document.cookie)).to.equal('');
    expect((await fetch(`${application.url}/api/shots`)).status).to.equal(401);
    expect(session.complaints).to.deep.equal([]);
  });

  it('a full disk is named at the head of the bench', async () => {
    // what a node says where it could not store a chunk; a disk is really filled by `npm run soak -- disk`
    const { db, pool } = connect(session.application.databaseUrl, 1);
    await notify(db, { type: 'full' });
    await pool.end();
    await session.page.locator(test('full')).waitFor();
    expect(await textOf(session.page, test('full'))).to.match(/disk of the database is full.*Make room/s);
  });

  it('asks again once the session is closed', async () => {
    const { page } = session;
    await page.goto(session.application.url);
    await page.click(test('leave'));
    await page.locator('#token').waitFor();
    await page.reload();
    await page.locator('#token').waitFor();
  });
});
