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
  // what draws in software draws the page quicker without a stand-in for a graphics card; only the 3D view asks for one
  '--disable-gpu-rasterization',
  '--disable-gpu-compositing',
];

/** Jagged edges, for a fifth less work: where nobody looks at the picture. */
export const UNSMOOTHED = '--webgl-antialiasing-mode=none';
