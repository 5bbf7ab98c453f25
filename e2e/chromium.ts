import { existsSync } from 'node:fs';
import type { LaunchOptions } from '@playwright/test';

const PLACES = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

/** How Debian's chromium is started, with or without a monitor, as root or not. */
export const CHROMIUM: LaunchOptions = {
  executablePath: process.env.CHROMIUM ?? PLACES.find((p) => existsSync(p)) ?? '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};
