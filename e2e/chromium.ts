/** Where the browser is, and how it must be started to draw in software and stay off the network. */
export const chromiumPath = process.env.CHROMIUM_PATH ?? '/usr/bin/chromium';

export const CHROMIUM_ARGUMENTS = [
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--use-gl=angle',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
];

/**
 * Where nobody looks at the picture: a third less work than with a stand-in for a graphics card that draws the whole page.
 * Every picture of the 3D view is then fetched by the page's own thread, so speeds are not measured so.
 */
export const ROUGH = ['--disable-gpu-rasterization', '--disable-gpu-compositing', '--webgl-antialiasing-mode=none'];
