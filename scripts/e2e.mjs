// npm run e2e: builds the interface and runs the end-to-end tests.

import { join } from 'node:path';
import { findChromium, installPackages, root, run } from './setup.mjs';

installPackages();
process.env.CHROMIUM_PATH = findChromium();
run(join(root, 'node_modules/.bin/vite'), ['build', 'apps/web', '--logLevel', 'error']);
run(join(root, 'node_modules/.bin/playwright'), ['test', '-c', 'e2e/playwright.config.ts', ...process.argv.slice(2)]);
