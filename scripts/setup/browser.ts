import { chromium, type Browser } from 'playwright-core';

const ARGUMENTS = [
  '--no-sandbox',
  '--disable-gpu',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** Starts Debian's Chromium without a window; it looks for nothing on the network but what it is shown. */
export const startBrowser = (): Promise<Browser> =>
  chromium.launch({ executablePath: '/usr/bin/chromium', args: ARGUMENTS });
