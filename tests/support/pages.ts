import { expect } from 'chai';
import { resolve } from 'node:path';
import type { Browser, BrowserContextOptions, Page } from 'playwright-core';
import type { Surroundings } from '@bevrin/server';
import { startBrowser } from '../../scripts/setup/browser.js';
import { startTestServer, type TestServer } from './test-server.js';

const LONGEST_WAIT_MS = 60_000;

/**
 * The real pages on a server of their own, for the tests of one `describe`: everything is closed behind them, and a test
 * in which a page threw has failed.
 * @returns opens them; call it in a `before`
 */
export const onPages = (
  options: BrowserContextOptions = {},
  surroundings: Surroundings = {},
): (() => Promise<{ server: TestServer; page: Page }>) => {
  let server: TestServer | undefined;
  let browser: Browser | undefined;
  const faults: string[] = [];
  after(async () => {
    await browser?.close();
    await server?.stop();
  });
  afterEach(() => expect(faults, 'errors on the page').to.deep.equal([]));
  return async () => {
    server = await startTestServer(resolve('apps/web/dist'), surroundings);
    browser = await startBrowser();
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, ...options });
    page.setDefaultTimeout(LONGEST_WAIT_MS);
    page.on('pageerror', (error) => faults.push(error.message));
    return { server, page };
  };
};

const MOST_TABS = 160;

/** Presses Tab until the control of this name has the focus. */
export const tabOn = async (page: Page, name: RegExp): Promise<void> => {
  for (let i = 0; i < MOST_TABS; i++) {
    await page.keyboard.press('Tab');
    const here = await page.evaluate(() => {
      const at = document.activeElement;
      const isField = at instanceof HTMLInputElement || at instanceof HTMLTextAreaElement;
      const label = isField ? at.labels?.[0]?.textContent : null;
      return at?.getAttribute('aria-label') ?? label ?? at?.textContent ?? '';
    });
    if (name.test(here)) return;
  }
  throw new Error(`no control called ${name} was reached by ${MOST_TABS} tabs`);
};
