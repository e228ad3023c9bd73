export { intersect, subtract, unite } from './clip.ts';
export { easedLine, easedLoop } from './ease.ts';
export { aroundLines, bandAlong, grow } from './grow.ts';
export { silhouette } from './silhouette.ts';
