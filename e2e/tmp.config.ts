import config from './playwright.config.ts';

const args = (process.env.XARGS ?? '').split(' ').filter(Boolean);
const drop = (process.env.XDROP ?? '').split(' ').filter(Boolean);
const base = config.use?.launchOptions?.args ?? [];
export default {
  ...config,
  retries: 0,
  workers: Number(process.env.XW ?? 2),
  use: {
    ...config.use,
    launchOptions: {
      ...config.use?.launchOptions,
      executablePath: process.env.XBIN ?? '/usr/bin/chromium',
      args: [...base.filter((a) => !drop.includes(a)), ...args],
    },
  },
};
